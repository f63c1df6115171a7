import { array, boolean, type InferType, object, string } from 'yup';

import { idShape } from '../fault/text-shapes';
import type { JobStatus, JobView } from './job';

/** The largest archive that is taken, in bytes. */
export const MAX_ARCHIVE_BYTES = 4_000_000_000;
/** The largest JSON file that is taken, in bytes: all of it is in memory at once. */
export const MAX_JSON_BYTES = 30_000_000;

/** How something in a file stands to what is here. */
export type LocalStatus = 'new' | 'same' | 'different';

/** Something in a file, or something that can go into one, with what is in it. */
export interface FileNode {
  /** "versions/01M…", "mixNotes", "sections/eq". */
  readonly id: string;
  readonly name: string;
  readonly under: string;
  readonly here: LocalStatus | null;
  readonly children: readonly FileNode[];
}

/** A file that was opened, with what is inside. */
/** A song or show that something can go into. */
export interface Into {
  readonly id: string;
  /** With its desk, where there are several of the kind. */
  readonly name: string;
}

export interface ImportView {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly format: 'library' | 'scene' | 'archive';
  /** A sentence: what it is. */
  readonly what: string;
  /** What this Old Echo makes of it: which desk takes it, what becomes a copy. */
  readonly fits: string;
  readonly branches: readonly FileNode[];
  /** Songs and shows here that it can go into. */
  readonly into: readonly Into[];
  /** The one of these that it was made from, or null. */
  readonly madeFrom: string | null;
  /** How far its import is, or null while none was begun. */
  readonly job: JobView | null;
  /** Where it went, in the app. */
  readonly resultPath: string | null;
  /** The desk of that song or show, where nobody has said yet where it is. */
  readonly toConnect: { readonly id: string; readonly name: string } | null;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
}

export const importShape = object({
  /** Branches that come in, by their ids. */
  include: array(string().required().max(80)).required().max(20_000),
  /** Whether what has the same name here goes to the bin; otherwise both stay. */
  replace: boolean().default(false),
  /** The song or show it goes into; without one an archive becomes one of its own, and a scene goes into the first of its desk. */
  intoId: idShape.nullable().default(null),
})
  .noUnknown()
  .required();

export const exportShape = object({
  /** Versions that go in; all of them without. */
  versions: array(idShape.required())
    .max(1000)
    .transform((_, given: unknown) => (given === undefined ? undefined : [given].flat()))
    .optional()
    .default(undefined),
  /** Scenes that were autosaved. */
  autosaves: boolean().default(false),
  sound: boolean().default(false),
  /** What does not go in, as the contents name it: `versions` (all), `mixNotes`, `safes`, `presets` or one of them, `sections/eq`. */
  without: array(string().required().max(80))
    .max(1000)
    .transform((_, given: unknown) => (given === undefined ? [] : [given].flat()))
    .default([]),
}).noUnknown();

export type ImportRequest = InferType<typeof importShape>;
export type ExportRequest = InferType<typeof exportShape>;

/** How far an import is, and where it went. */
export type ImportProgress = Pick<ImportView, 'id' | 'job' | 'resultPath' | 'toConnect'>;

/** A file that was opened before, and how its import ended, if one was begun. */
export interface RecentImport extends Pick<ImportView, 'id' | 'name' | 'bytes' | 'madeAt'> {
  readonly status: JobStatus | null;
}
