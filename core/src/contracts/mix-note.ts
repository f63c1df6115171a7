import { type InferType, number, object, string } from 'yup';

import { idShape, MAX_PERSON_NAME_LENGTH } from '../fault/text-shapes';

export const MAX_MIX_NOTE_LENGTH = 500;
/** The latest moment of a song or show that a mix note can name, in seconds. */
const MAX_SONG_SECONDS = 86_400;

export const MIX_NOTE_STATUSES = ['open', 'tried', 'done', 'declined'] as const;
export type MixNoteStatus = (typeof MIX_NOTE_STATUSES)[number];

const text = string()
  .trim()
  .min(1, 'a mix note needs words')
  .max(MAX_MIX_NOTE_LENGTH, `a mix note can have up to ${MAX_MIX_NOTE_LENGTH} characters`);

/** What the client or the band asked for. */
const mixNoteFields = object({
  text,
  /** Where in the song, in seconds. */
  songSeconds: number().min(0).max(MAX_SONG_SECONDS).nullable(),
  strip: string().max(12).nullable(),
  /** Who asked for it. */
  requestedBy: string()
    .trim()
    .max(MAX_PERSON_NAME_LENGTH, `a name can have up to ${MAX_PERSON_NAME_LENGTH} characters`)
    .optional(),
  status: string().oneOf(MIX_NOTE_STATUSES),
  /** The scene that answers it. */
  sceneId: idShape.nullable(),
});

export const newMixNoteShape = mixNoteFields
  .shape({ versionId: idShape.required(), text: text.required('a mix note needs words') })
  .noUnknown()
  .required();

export const mixNoteEditShape = mixNoteFields
  .shape({
    /** The revision that was edited, so that a change by someone else is not written over. */
    revision: number().integer().required(),
  })
  .noUnknown()
  .required();

export type NewMixNote = InferType<typeof newMixNoteShape>;
export type MixNoteEdit = InferType<typeof mixNoteEditShape>;

export interface MixNoteView {
  readonly id: string;
  readonly versionId: string;
  readonly text: string;
  readonly songSeconds: number | null;
  readonly strip: string | null;
  readonly requestedBy: string;
  readonly status: MixNoteStatus;
  readonly sceneId: string | null;
  /** The number and name of that scene, and the scene before it; null without one, or for one that is the first. */
  readonly scene: string | null;
  readonly beforeId: string | null;
  readonly revision: number;
}

/** A moment of a song as minutes and seconds: "2:05". */
export const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

/** Seconds of "2:05", "2.05" or "125"; null for nothing, undefined for what is no moment. */
export function readClock(words: string): number | null | undefined {
  if (words.trim() === '') return null;
  const parts = /^(?:(\d{1,4})[:.])?(\d{1,5})$/.exec(words.trim());
  if (!parts) return undefined;
  const [minutes, seconds] = [Number(parts[1] ?? 0), Number(parts[2])];
  return parts[1] !== undefined && seconds > 59 ? undefined : minutes * 60 + seconds;
}
