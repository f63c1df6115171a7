import { array, boolean, type InferType, mixed, object, string } from 'yup';

import type { Value } from '../desk/setting';
import { isRecord } from '../fault/is-record';
import { idShape, nameShape } from '../fault/text-shapes';
import { plural } from '../phrases/format-value';
import { type Safes, safesShape, type Scope } from '../recall/scope-rules';
import { type Thresholds, thresholdsShape } from '../signal/thresholds';
import { hostShape, portShape, profileIdShape } from './link-trial';
import { sceneTitle } from './scene';

/** Values by address, of which one request holds so many at most; each is checked against a profile where they are taken. */
export const valuesByAddress = <V extends Value = Value>(most: number) =>
  mixed<Readonly<Record<string, V>>>()
    .test('by address', '${path} must hold values by address', (value) => value === undefined || isRecord(value))
    .test(
      'count',
      `\${path} may hold at most ${most} values at once`,
      (value) => value === undefined || Object.keys(value).length <= most,
    );

/** Values on their way to a desk by hand, or into many scenes, at most: all strips of a large desk together, and some of each. */
export const MOST_MOVED = 2000;
/** Settings that are looked at, heard or restored together, at most: all of a large desk. */
export const MOST_SETTINGS = 20_000;

/** Settings on their way to a desk. */
export const settingsShape = object({ settings: valuesByAddress(MOST_MOVED).required() })
  .noUnknown()
  .required();

/** Moves by hand on a screen, with the ids of the cautions that were held for, and what the page calls the drag they belong to. */
export const moveShape = settingsShape.shape({
  gesture: string().min(1).max(40).optional(),
  confirmed: array(string().required().max(80)).max(20).default([]),
});

export const modeShape = string().oneOf(['studio', 'live'] as const);

export const deskEditShape = object({
  mode: modeShape.optional(),
  safes: safesShape.optional().default(undefined),
  thresholds: thresholdsShape.optional().default(undefined),
  /** While it is on, nothing can be restored, replaced or removed, and mode, thresholds and safes stay. */
  showLock: boolean().optional(),
  /** With what the lock is put on, it is lifted: it can be put on without one. */
  pin: string()
    .matches(/^\d{4,8}$/, 'a PIN has 4 to 8 digits')
    .optional(),
  /** What a hand on the desk keeps to itself during a restore: the control it moved, or its whole strip. */
  handHolds: string()
    .oneOf(['control', 'strip'] as const)
    .optional(),
  /** The scene to swap to. */
  swapTo: idShape.optional(),
  /** The song or show to work on until something of another stands on the desk; null for that of the scene that stands. */
  worksOn: idShape.nullable().optional(),
})
  .noUnknown()
  .required();

const placeFields = {
  name: nameShape('a desk').required('a desk needs a name'),
  host: hostShape.required('an address is missing'),
  port: portShape.required('a port is missing'),
};

/** Where a desk is of which nobody has said it yet, or that no wire leads to: the port that discards what it is sent. */
export const NOWHERE = { host: '127.0.0.1', port: 9 };

/** What a desk is called, and where it is. */
export const deskPlaceShape = object(placeFields).noUnknown().required();

export type DeskPlace = InferType<typeof deskPlaceShape>;

export const newDeskShape = object({
  ...placeFields,
  profileId: profileIdShape.required('a desk model must be chosen'),
  mode: modeShape.required(),
})
  .noUnknown()
  .required();

export type NewDesk = InferType<typeof newDeskShape>;

export const MAX_AT_HAND = 12;

/** The scenes at hand on a desk, in order. */
export const atHandShape = object({
  ids: array(idShape.required())
    .required()
    .max(MAX_AT_HAND, `at most ${MAX_AT_HAND} scenes can be at hand`)
    .test('once', 'a scene can be at hand only once', (ids) => new Set(ids).size === ids.length),
})
  .noUnknown()
  .required();

export type DeskEdit = InferType<typeof deskEditShape>;

/** What a desk is meant to hold: after the last capture or restore, cell by cell. */
export interface BaselineView {
  /** Counts up whenever it changes; its state is asked for by it. */
  readonly revision: number;
  /** Where it came from: "5 Saltmarsh reel, without label". */
  readonly line: string;
}

/** A desk as the app sees it. */
export interface DeskView {
  readonly id: string;
  readonly name: string;
  readonly profileId: string;
  /** Where it is: "192.168.1.20:9000"; empty where nobody has said so yet. */
  readonly address: string;
  /** When it was taken out of use, as ISO 8601; null while it is in use. */
  readonly removedAt: string | null;
  readonly mode: 'studio' | 'live';
  readonly safes: Safes;
  readonly thresholds: Thresholds;
  readonly showLock: boolean;
  /** Whether it is lifted by a PIN only. */
  readonly hasPin: boolean;
  readonly handHolds: 'control' | 'strip';
  readonly link: DeskLinkView;
  /** When it was last heard, as ISO 8601; null where it never was. */
  readonly heardAt: string | null;
  /** Null where nothing was ever captured on it or restored to it. */
  readonly baseline: BaselineView | null;
  /** The scene that makes up most of the baseline, or null. */
  readonly scene: {
    readonly id: string;
    readonly number: number;
    readonly place: number;
    readonly name: string;
    readonly productionId: string;
    readonly versionId: string;
    readonly binned: boolean;
    readonly revision: number;
    /** Whether it took the place of another from this desk, which can still be undone. */
    readonly isUndoable: boolean;
  } | null;
  /** The song or show that someone said it works on, while a scene of another stands on it; else null. */
  readonly worksOn: string | null;
  /** Scenes one tap away, in the order people gave them. */
  readonly atHand: readonly {
    readonly id: string;
    readonly number: number;
    readonly name: string;
    readonly productionId: string;
    /** What comes back of it unless something else is asked for. */
    readonly scope: Scope;
  }[];
  /** The other side of a swap: the scene that is one key away, and the scope it comes back with. */
  readonly swap: SwapSide | null;
  /** The newest restore of this desk, whatever became of it. */
  readonly lastRestoreId: string | null;
}

export interface SwapSide {
  readonly id: string;
  readonly number: number;
  readonly name: string;
  /** Of the desk as it was before a restore: the scene that stood there, and how many settings had moved since. */
  readonly wayBack: { readonly number: number; readonly name: string; readonly moved: number } | null;
  readonly scope: Scope;
}

/** The other side of a swap as people call it: "4 Chorus", or "4 Chorus, 2 settings moved" where it was left like that. */
export function swapTitle({ wayBack, ...scene }: SwapSide): string {
  if (!wayBack) return sceneTitle(scene);
  return wayBack.moved > 0 ? `${sceneTitle(wayBack)}, ${plural(wayBack.moved, 'setting')} moved` : sceneTitle(wayBack);
}

export interface DeskLinkView {
  /** `reading`: the desk answers and its settings are being read. */
  readonly state: 'linked' | 'reading' | 'unlinked';
  /** Why it is not linked, as a sentence. */
  readonly why: string;
  /** No wire leads to it: it holds what people say it does. */
  readonly manual?: boolean;
}
