import { array, type InferType, lazy, mixed, object, string } from 'yup';

import { MAX_NOTE_LENGTH } from '../fault/text-shapes';

export const MAX_PART_LENGTH = 40;

const isParts = (value: unknown): value is Readonly<Record<string, string>> =>
  typeof value === 'object' &&
  value !== null &&
  !Array.isArray(value) &&
  Object.entries(value).every(
    ([strip, part]) =>
      strip.length <= 12 && typeof part === 'string' && part.trim() !== '' && part.length <= MAX_PART_LENGTH,
  );

/** What strips of a production carry, by strip; `shared` names parts that several strips carry on purpose. */
export const partsShape = object({
  parts: lazy(() =>
    mixed<Readonly<Record<string, string>>>()
      .required()
      .test('parts', `parts must hold names of at most ${MAX_PART_LENGTH} characters by strip`, isParts),
  ),
  shared: array(string().required().max(MAX_PART_LENGTH)).max(2000),
})
  .noUnknown()
  .required();

export type NewParts = { readonly parts: Parts; readonly shared?: readonly string[] };
export type Parts = Readonly<Record<string, string>>;

/** A venue a show plays in: what each part is set to there. */
export interface VenueView {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  /** Settings by part: usually position, EQ against the room, effect lengths. */
  readonly settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  /** ISO 8601, of the desk it was taken from; null before. */
  readonly capturedAt: string | null;
}

export const MAX_VENUE_NAME_LENGTH = 60;

export const venueShape = object({
  name: string()
    .trim()
    .required('a venue needs a name')
    .max(MAX_VENUE_NAME_LENGTH, `a name can have up to ${MAX_VENUE_NAME_LENGTH} characters`),
  note: string().max(MAX_NOTE_LENGTH, `a note can have up to ${MAX_NOTE_LENGTH} characters`),
})
  .noUnknown()
  .required();
export type NewVenue = InferType<typeof venueShape>;

/** What a venue holds from now on: these sections of these strips, or what is usual of all that have a part. */
export const venueCaptureShape = object({
  sections: array(string().required().max(20)).min(1, 'choose a section').max(40),
  strips: array(string().required().max(12)).min(1, 'choose a part').max(2000),
})
  .noUnknown()
  .required();
export type VenueCapture = InferType<typeof venueCaptureShape>;
