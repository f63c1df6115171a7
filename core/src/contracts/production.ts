import { array, type InferType, number, object, string } from 'yup';

import { idShape, MAX_NAME_LENGTH, nameShape, noteShape } from '../fault/text-shapes';

export const PRODUCTION_KINDS = ['song', 'show'] as const;
/** The state of work of a version. */
export const VERSION_STATUSES = ['working', 'sent', 'approved'] as const;
export type VersionStatus = (typeof VERSION_STATUSES)[number];

const revision = number().integer().required();
const kind = string().oneOf(PRODUCTION_KINDS);

export const newProductionShape = object({
  deskId: idShape.required(),
  name: nameShape('a production').required('a production needs a name'),
  kind: kind.required(),
  note: noteShape.default(''),
  /** The scene it begins with, of any production on the same desk model; without one it begins empty. */
  fromSceneId: idShape.nullable().default(null),
})
  .noUnknown()
  .required();

export const productionEditShape = object({
  name: nameShape('a production').optional(),
  kind: kind.optional(),
  note: noteShape.optional(),
  revision,
})
  .noUnknown()
  .required();

export const newVersionShape = object({
  name: nameShape('a version').required('a version needs a name'),
  note: noteShape.default(''),
  /** The scene it begins with; without one it begins empty. */
  fromSceneId: idShape.nullable().default(null),
  followsId: idShape.nullable().default(null),
})
  .noUnknown()
  .required();

export const versionEditShape = object({
  name: nameShape('a version').optional(),
  note: noteShape.optional(),
  status: string().oneOf(VERSION_STATUSES).optional(),
  /** The version of the same production whose later changes it takes over, or null for none. */
  followsId: idShape.nullable().optional(),
  revision,
})
  .noUnknown()
  .required();

/** A name that someone would like for a scene of a version. */
export const uniqueNameShape = object({ name: string().trim().required().max(MAX_NAME_LENGTH) }).noUnknown();

/** The strip whose past is asked for. */
export const stripHistoryShape = object({ strip: string().required().max(12) }).noUnknown();

/** Ids in the order wanted. */
export const orderShape = object({ ids: array(idShape.required()).required().max(1000) })
  .noUnknown()
  .required();

export type NewProduction = InferType<typeof newProductionShape>;
/** What a production is in itself, whatever it begins with. */
export type ProductionWords = Omit<NewProduction, 'fromSceneId'>;
export type ProductionEdit = InferType<typeof productionEditShape>;
export type NewVersion = InferType<typeof newVersionShape>;
export type VersionEdit = InferType<typeof versionEditShape>;

export interface VersionView {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  readonly status: VersionStatus;
  /** The scene it was made from, or null where it begins with the production. */
  readonly fromSceneId: string | null;
  /** The place of that scene where it is in the same production and not in the bin, or null. */
  readonly fromPlace: number | null;
  /** The version whose later changes it takes over, or null. */
  readonly followsId: string | null;
  /** Its newest scene, kept ones not counted, or null. */
  readonly newestSceneId: string | null;
  /** The places of its first and last scenes, kept ones too; null while it has none. */
  readonly places: { readonly oldest: number; readonly newest: number } | null;
  /** Its scenes, kept ones not counted. */
  readonly scenes: number;
  /** When it went to the bin, or null. */
  readonly binnedAt: string | null;
  readonly revision: number;
}

export interface ProductionView {
  readonly id: string;
  readonly name: string;
  readonly kind: (typeof PRODUCTION_KINDS)[number];
  readonly note: string;
  readonly deskId: string;
  readonly versions: readonly VersionView[];
  readonly binnedVersions: readonly VersionView[];
  /** Scenes in the bin. */
  readonly binned: number;
  /** Every tag of its scenes, in alphabetical order. */
  readonly tags: readonly string[];
  /** When it went to the bin, or null. */
  readonly binnedAt: string | null;
  readonly revision: number;
}
