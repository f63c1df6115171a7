import { array, boolean, type InferType, number, object, string } from 'yup';

import { idShape, MAX_NAME_LENGTH, nameShape, noteShape, signatureShape } from '../fault/text-shapes';
import { type Scope, scopeShape } from '../recall/scope-rules';

const name = nameShape('a scene');
const milestone = string().trim().max(MAX_NAME_LENGTH, `a milestone can have up to ${MAX_NAME_LENGTH} characters`);

export const MAX_TAG_LENGTH = 30;
export const MAX_TAGS = 12;
const tags = array(
  string()
    .trim()
    .required('a tag needs a word')
    .max(MAX_TAG_LENGTH, `a tag can have up to ${MAX_TAG_LENGTH} characters`),
)
  .max(MAX_TAGS, `a scene can have up to ${MAX_TAGS} tags`)
  .transform((list: unknown) => (Array.isArray(list) ? [...new Set(list)] : list));

export const captureShape = object({
  versionId: idShape.required(),
  name: name.required('a scene needs a name'),
  note: noteShape.default(''),
  /** The stage reached, or empty. */
  milestone: milestone.default(''),
  tags: tags.default([]),
  by: signatureShape,
})
  .noUnknown()
  .required();

/**
 * What stands on the desk takes the place of a scene, under its name; the old one goes to the bin. Its words are kept but for
 * those that are given.
 */
export const replaceShape = object({
  sceneId: idShape.required(),
  revision: number().integer().required(),
  note: noteShape.optional(),
  milestone: milestone.optional(),
  tags: tags.optional().default(undefined),
  by: signatureShape,
})
  .noUnknown()
  .required();

export const sceneEditShape = object({
  name: name.optional(),
  note: noteShape.optional(),
  milestone: milestone.optional(),
  tags: tags.optional().default(undefined),
  /** Whether it can neither be replaced nor binned. */
  protected: boolean().optional(),
  /** What a restore of this scene brings back unless told otherwise; null for everything. */
  scope: scopeShape.nullable().optional().default(undefined),
  /** The revision that was edited, so that a change by someone else is not written over. */
  revision: number().integer().required(),
})
  .noUnknown()
  .required();

/** To which version a scene is moved or copied; a copy may bring a name of its own. */
export const moveTargetShape = object({ versionId: idShape.required(), name: name.optional() }).noUnknown().required();

/** The most scenes on one page of a list. */
const MAX_PAGE_SIZE = 200;

const yes = boolean().default(false);
export const timestampShape = string()
  .max(40)
  .test(
    'moment',
    '${path} must be a moment, as 2026-11-25T20:00:00Z',
    (text) => text === undefined || !Number.isNaN(Date.parse(text)),
  );

/** Which scenes of a production are listed, the newest first. Everything given has to hold. */
const sceneFilterShape = object({
  versionId: idShape.optional(),
  /** Every word of it occurs in the number, name, note, tags, milestone or the names of the strips that moved. */
  search: string().trim().max(200).optional(),
  milestone: yes,
  tag: string().max(MAX_TAG_LENGTH).optional(),
  /** ISO 8601; from this moment on. */
  from: timestampShape.optional(),
  /** ISO 8601; before this moment. */
  until: timestampShape.optional(),
  /** Scenes in which this strip moved. */
  strip: string().max(12).optional(),
  /** Leaves out what was kept by itself. */
  ownOnly: yes,
  /** What is in the bin instead of what is not. */
  bin: yes,
}).noUnknown();

/** One page of a list: after the scene at the place `before`, going back in time. */
export const scenePageShape = sceneFilterShape
  .shape({
    before: number().integer().optional(),
    limit: number().integer().min(1).max(MAX_PAGE_SIZE).default(60),
  })
  .noUnknown();

export type Capture = InferType<typeof captureShape>;
export type Replacement = InferType<typeof replaceShape>;
export type SceneEdit = InferType<typeof sceneEditShape>;
export type SceneFilter = Partial<InferType<typeof sceneFilterShape>>;
export type ScenePageRequest = InferType<typeof scenePageShape>;

/**
 * `scene`: captured by a person. The others were kept by Old Echo itself: before a restore, when the desk had drifted and
 * then rested, and when the link to a drifted desk ended.
 */
export const SCENE_KINDS = ['scene', 'way back', 'rested', 'link ended'] as const;
export type SceneKind = (typeof SCENE_KINDS)[number];

/** Settings and the strips they are on. */
export interface ChangeCount {
  readonly settings: number;
  readonly strips: number;
}

/** A scene without its state. */
export interface SceneView {
  readonly id: string;
  readonly productionId: string;
  readonly versionId: string;
  /** Counts up through what people captured in the production; 0 for what was kept by itself. */
  readonly number: number;
  /** Where it stands in the production, whoever made it: counts up through all of it. */
  readonly place: number;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  readonly tags: readonly string[];
  readonly protected: boolean;
  /** Whether it holds only a part of its desk, because more was not taken from a file. */
  readonly partial: boolean;
  readonly kind: SceneKind;
  readonly parents: readonly string[];
  /** The number of the first parent; null where there is none, or it has none. */
  readonly parentNumber: number | null;
  /** The numbers of its other parents, where it was made out of several. */
  readonly joins: readonly number[];
  readonly scope: Scope | null;
  /** How far it is from its first parent. */
  readonly changed: ChangeCount;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
  /** Who captured it, and from which device; empty at the machine that Old Echo runs on. */
  readonly by: string;
  /** When it went to the bin, or null. */
  readonly binnedAt: string | null;
  readonly revision: number;
}

/** A scene that has a name which someone would like to give. */
export interface NamedScene {
  readonly id: string;
  readonly number: number;
  readonly name: string;
  readonly revision: number;
  readonly isProtected: boolean;
}

/** What people captured before and after a scene; null where there is nothing. */
export interface SceneNeighbours {
  readonly earlier: SceneView | null;
  readonly later: SceneView | null;
}

/** What a scene is called: "14 Static balance"; what was kept by itself has a name alone. */
export const sceneTitle = ({ number, name }: { readonly number: number | null; readonly name: string }): string =>
  number ? `${number} ${name}` : name;

export interface ScenePage {
  readonly scenes: readonly SceneView[];
  /** All that the filter lets through, on this page or not. */
  readonly total: number;
  /** Whether there are older ones after this page. */
  readonly more: boolean;
}
