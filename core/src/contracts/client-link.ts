import { array, boolean, type InferType, number, object, string } from 'yup';

import { idShape, MAX_PERSON_NAME_LENGTH, nameShape, noteShape, signatureShape } from '../fault/text-shapes';
import { MAX_MIX_NOTE_LENGTH, type MixNoteStatus } from './mix-note';

/** How many mixes are heard by one link: they are played in step. */
export const MOST_CLIENT_MIXES = 2;
/** For how many days a link can be good. */
export const LINK_DAYS = { least: 1, usual: 30, most: 365 };
/** The latest moment of a song that a note can name, in seconds. */
const LATEST_SECOND = 86_400;

const mixName = string().trim().min(1).max(120).required('a mix needs a name');
const place = number()
  .integer()
  .min(0)
  .max(MOST_CLIENT_MIXES - 1);
/** Who says something by a link, as they call themselves. */
const clientName = string()
  .trim()
  .min(1, 'say who you are')
  .max(MAX_PERSON_NAME_LENGTH, `a name can have up to ${MAX_PERSON_NAME_LENGTH} characters`)
  .required('say who you are');

/** Mixes for somebody who has no account: they stay as they are, whatever is done to their scenes. */
export const newClientLinkShape = object({
  /** Whom it is for. */
  name: nameShape('a link').required('a link needs a name'),
  note: noteShape.default(''),
  mixes: array(
    object({
      /** The rendered mix, by its id. */
      sound: string()
        .matches(/^[0-9a-f]{64}$/, '${path} must be a mix')
        .required(),
      name: mixName,
      sceneId: idShape.nullable().default(null),
    })
      .noUnknown()
      .required(),
  )
    .min(1)
    .max(MOST_CLIENT_MIXES)
    .required(),
  days: number().integer().min(LINK_DAYS.least).max(LINK_DAYS.most).default(LINK_DAYS.usual),
  /** What it asks for before anything is heard. */
  word: string().trim().min(4, 'a word has 4 characters at least').max(60).optional(),
  mayDownload: boolean().default(false),
  by: signatureShape,
})
  .noUnknown()
  .required();

export type NewClientLink = InferType<typeof newClientLinkShape>;

/** What a client chose, and who of them. */
interface Choice {
  /** The place of the mix among those of the link. */
  readonly mix: number;
  readonly by: string;
}

export interface ClientLinkView {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  readonly mixes: readonly { readonly name: string; readonly sound: string; readonly sceneId: string | null }[];
  readonly asksWord: boolean;
  readonly mayDownload: boolean;
  /** ISO 8601, as are the others. */
  readonly madeAt: string;
  readonly by: string;
  readonly endsAt: string;
  readonly withdrawnAt: string | null;
  /** How often it was opened, and when last. */
  readonly opened: number;
  readonly openedAt: string | null;
  readonly favourite: Choice | null;
  readonly approved: Choice | null;
  /** What was written by it. */
  readonly notes: number;
}

/** A link and where it leads: said once, since nobody can read it from what is kept. */
export interface MadeClientLink {
  readonly link: ClientLinkView;
  /** The path at whichever address of this machine. */
  readonly path: string;
  /** Where others on the network open it, the likeliest first; none where they do not reach this machine. */
  readonly addresses: readonly string[];
}

/** What somebody hears and sees who opens a link. */
export interface ClientPage {
  readonly production: string;
  readonly name: string;
  readonly note: string;
  readonly by: string;
  readonly endsAt: string;
  readonly mayDownload: boolean;
  readonly mixes: readonly {
    readonly name: string;
    /** Integrated, in LUFS; null for silence. */
    readonly loudness: number | null;
    readonly seconds: number;
    /** Levels, 0 … 1, in equal parts of the sound. */
    readonly overview: readonly number[];
  }[];
  readonly favourite: Choice | null;
  readonly approved: Choice | null;
  readonly notes: readonly ClientNote[];
}

/** A mix note that was written by a link, and what became of it. */
export interface ClientNote {
  readonly id: string;
  readonly mix: number;
  readonly songSeconds: number | null;
  readonly text: string;
  readonly by: string;
  readonly status: MixNoteStatus;
}

export const clientWordShape = object({ word: string().trim().max(60).required('a word is missing') })
  .noUnknown()
  .required();

export const clientNoteShape = object({
  mix: place.required(),
  songSeconds: number().min(0).max(LATEST_SECOND).nullable().default(null),
  text: string()
    .trim()
    .min(1, 'a note needs words')
    .max(MAX_MIX_NOTE_LENGTH, `a note can have up to ${MAX_MIX_NOTE_LENGTH} characters`)
    .required('a note needs words'),
  name: clientName,
})
  .noUnknown()
  .required();

export type NewClientNote = InferType<typeof clientNoteShape>;

/** Which mix is the favourite and which is approved; null takes that back, what is not named stays. */
export const clientChoiceShape = object({
  favourite: place.nullable().optional(),
  approved: place.nullable().optional(),
  name: clientName,
})
  .noUnknown()
  .required();

export type ClientChoice = InferType<typeof clientChoiceShape>;
