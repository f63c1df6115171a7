import { array, boolean, type InferType, mixed, number, object, string } from 'yup';

import type { Value } from '../desk/setting';
import { isRecord } from '../fault/is-record';
import { idShape, signatureShape } from '../fault/text-shapes';
import type { Severity } from '../recall/caution';
import type { Answering } from '../recall/caution-answers';
import { FADE_CURVES, type FadeCurve } from '../recall/fade-curves';
import type { Stage } from '../recall/restore-order';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS, type Scope, scopeShape } from '../recall/scope-rules';
import { WALK_MARKS, type WalkMark, type WalkMarks } from '../recall/walk';
import type { SwapSide } from './desk';

const strips = array(string().required().max(12)).max(512);

/** The longest fade, in seconds. */
const MAX_FADE_SECONDS = 60;

/**
 * What is to come back, and on which desk: a scene, settings that were put together (`stagedSettingsId`), or the rest of a restore that did not end
 * (`resume`). `onto` puts strips of the scene onto
 * others, instead of everything onto where it was; `relativeTo` names the scene whose difference to this one is applied to
 * what is on the desk.
 */
export const recallShape = object({
  /** The desk it is meant for: no other desk takes it. */
  deskId: idShape.required('a recall must name its desk'),
  sceneId: idShape.optional(),
  /** Settings that are to be put on the desk, by their id. */
  stagedSettingsId: idShape.optional(),
  resume: object({
    restoreId: idShape.required(),
    how: string()
      .oneOf(['finish', 'roll back'] as const)
      .required(),
  })
    .noUnknown()
    .optional()
    .default(undefined),
  /** What the desk is meant to hold: what drifted is put back. */
  baseline: boolean()
    .oneOf([true] as const)
    .optional(),
  scope: scopeShape,
  onto: array(object({ from: string().required().max(12), to: strips.min(1).required() }).noUnknown())
    .max(512)
    .default([]),
  /** Whether source and patch come along onto other strips. */
  withPatch: boolean().default(false),
  relativeTo: idShape.nullable().default(null),
  /** Open strips that are muted while they are changed. */
  muteFirst: strips.default([]),
})
  .noUnknown()
  .required()
  .test({
    name: 'one source',
    message:
      'a scene, what is to be put on the desk, what it is meant to hold, or a restore to be resumed must be named',
    skipAbsent: true,
    test: ({ sceneId, stagedSettingsId, resume, baseline }) =>
      [sceneId, stagedSettingsId, resume, baseline].filter((source) => source !== undefined).length === 1,
  });

/** How a caution was answered: someone has looked, or its levels fade. */
const answerShape = object({
  id: string().max(100).optional(),
  way: string()
    .oneOf(['checked', 'fade'] as const)
    .required(),
  /** What was read of the caution: it holds for all that goes no further. */
  points: array(object({ about: string().required().max(200), reach: number().required() }).noUnknown())
    .max(4000)
    .default([]),
}).noUnknown();

export const restoreRequestShape = object({
  recall: recallShape,
  /** Of what the preview that was looked at was asked for; null for what is done at a touch in the studio, and nobody has looked at. */
  fingerprint: string().length(64).nullable().defined(),
  /** Seconds over which levels move. */
  fade: number().min(0).max(MAX_FADE_SECONDS).default(0),
  /** How what opens and closes does so over that time. */
  curve: string()
    .oneOf([...FADE_CURVES])
    .default('even'),
  answers: array(answerShape).max(500).default([]),
  /** Who restores, as they call themselves. */
  by: signatureShape,
})
  .noUnknown()
  .required();

export const swapShape = object({ by: signatureShape }).noUnknown().required();

const CANCEL_ACTIONS = ['stop', 'roll back', 'roll back at once'] as const;

export const cancelShape = object({
  how: string().oneOf(CANCEL_ACTIONS).required(),
})
  .noUnknown()
  .required();

/** The most settings that are marked at once: all of a strip. */
const MOST_MARKED = 1000;

/** What is said of settings in a walk, by their ids; null takes it back. */
export const walkMarksShape = object({
  marks: mixed<Readonly<Record<string, WalkMark | null>>>()
    .required()
    .test('marks', `\${path} must hold at most ${MOST_MARKED} marks, each of them set, could not or null`, (marks) => {
      const said = isRecord(marks) ? Object.values(marks) : [];
      const known: readonly unknown[] = [...WALK_MARKS, null];
      return said.length > 0 && said.length <= MOST_MARKED && said.every((mark) => known.includes(mark));
    }),
})
  .noUnknown()
  .required();

export interface Recall {
  readonly deskId: string;
  readonly sceneId?: string | undefined;
  readonly stagedSettingsId?: string | undefined;
  readonly resume?: { readonly restoreId: string; readonly how: 'finish' | 'roll back' } | undefined;
  readonly baseline?: boolean | undefined;
  readonly scope: Scope;
  readonly onto: readonly { readonly from: string; readonly to: readonly string[] }[];
  readonly withPatch: boolean;
  readonly relativeTo: string | null;
  readonly muteFirst: readonly string[];
}
export type RestoreRequest = Omit<InferType<typeof restoreRequestShape>, 'recall'> & { readonly recall: Recall };
/** `stop`: everything stays where it is at that moment. To roll back takes as long as the restore's fade, or no time. */
export type CancelAction = (typeof CANCEL_ACTIONS)[number];

/** A recall of a scene to a desk, as a screen puts it together. */
export const sceneRecall = (deskId: string, sceneId: string, scope: Scope, more: Partial<Recall> = {}): Recall => ({
  deskId,
  sceneId,
  scope: [...scope],
  onto: [],
  withPatch: false,
  relativeTo: null,
  muteFirst: [],
  ...more,
});

/** What was put together for a desk, on its way there. */
export const stagedRecall = (deskId: string, stagedSettingsId: string): Recall => ({
  ...sceneRecall(deskId, '', ALL_EXCEPT_GLOBALS),
  sceneId: undefined,
  stagedSettingsId,
});

/** What drifted, or a part of it, on its way back to what the desk is meant to hold. */
export const putBackRecall = (deskId: string, scope: Scope): Recall => ({
  ...sceneRecall(deskId, '', scope),
  sceneId: undefined,
  baseline: true,
});

/** The rest of a restore that did not end, or the way back from it. */
export const resumeRecall = (deskId: string, restoreId: string, how: 'finish' | 'roll back'): Recall => ({
  ...sceneRecall(deskId, '', ALL_WITH_GLOBALS),
  sceneId: undefined,
  resume: { restoreId, how },
});

/** A setting that did not end where the preview put it. */
export interface Unconfirmed {
  readonly address: string;
  readonly wanted: Value;
  /** What the desk was last known to hold, or null where nothing was heard. */
  readonly found: Value | null;
  /** A sentence. */
  readonly why: string;
}

export interface RestoreReport {
  readonly confirmed: number;
  /** What was sent to a desk that cannot be asked for it, by address: it is neither confirmed nor known to have failed. */
  readonly unasked?: readonly string[];
  /** What people said they have set by hand, by address. */
  readonly byHand?: readonly string[];
  readonly unconfirmed: readonly Unconfirmed[];
  /** What of it a hand took during the restore, by name; it was left alone from then on. */
  readonly handled: readonly string[];
  /** Of a fade: what could not fade, by address. */
  readonly jumped?: readonly string[];
  /** Strips muted for the restore that were not opened again. */
  readonly leftMuted: readonly string[];
  readonly milliseconds: number;
}

export interface RestoreProgress {
  readonly stage: Stage | 'verify';
  readonly done: number;
  readonly total: number;
  /** It is on its way back to where the desk was. */
  readonly back: boolean;
  /** What was asked for while it is at work. */
  readonly cancel: CancelAction | null;
}

/**
 * `running`, then one of: `confirmed`, every setting that can be asked for was read back; `incomplete`, the report says what was not;
 * `cancelled`, it was stopped on its way; `rolled back`, the desk was read back as it was before; `interrupted`, Old Echo
 * itself stopped in the middle. Before it ends it may be a `walk`: all that is wired is done, and people set the rest by hand.
 */
export type RestoreStatus =
  'running' | 'walk' | 'confirmed' | 'incomplete' | 'cancelled' | 'rolled back' | 'interrupted';

/** A caution that was answered before a restore. */
export interface AnsweredCaution {
  readonly title: string;
  readonly weight: Severity;
  readonly way: Answering;
}

export interface RestoreView {
  readonly id: string;
  readonly deskId: string;
  /** Null once the scene was removed for good; its name and number stay. */
  readonly sceneId: string | null;
  readonly sceneName: string;
  /** 0 where it was no scene. */
  readonly sceneNumber: number;
  readonly status: RestoreStatus;
  readonly recall: Recall;
  readonly fade: number;
  readonly curve: FadeCurve;
  readonly by: string;
  readonly answered: readonly AnsweredCaution[];
  readonly changes: number;
  /** Where to go to undo it: the scene kept before it began, and the scope that covers all it touched. Null once that went. */
  readonly wayBack: { readonly sceneId: string; readonly scope: Scope } | null;
  readonly progress: RestoreProgress | null;
  /** What was said so far of what is set by hand; null unless that is going on. */
  readonly marks: WalkMarks | null;
  readonly report: RestoreReport | null;
  readonly startedAt: string;
  readonly endedAt: string | null;
}

/** A swap that has begun. */
export interface SwapView extends RestoreView {
  /** The side that it leads to, as it was when the desk was asked. */
  readonly to: SwapSide;
}

/** One page of the log, the newest first. */
export interface RestorePage {
  readonly restores: readonly RestoreView[];
  /** Ask for what came before this moment, or null where that is all. */
  readonly before: string | null;
}

/** What was restored, by name: "14 Static balance". */
export const restoredName = ({ sceneNumber, sceneName }: Pick<RestoreView, 'sceneNumber' | 'sceneName'>): string =>
  sceneNumber > 0 ? `${sceneNumber} ${sceneName}` : sceneName;
