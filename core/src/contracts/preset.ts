import { array, boolean, type InferType, lazy, mixed, number, object, string } from 'yup';

import type { SettingsByAddress } from '../desk/state';
import { isRecord } from '../fault/is-record';
import { idShape, nameShape, noteShape, signatureShape } from '../fault/text-shapes';
import { PRESET_KINDS, type PresetContent, type PresetKind } from '../library/preset';
import { MOST_SETTINGS, valuesByAddress } from './desk';
import { MAX_TAG_LENGTH, MAX_TAGS } from './scene';

/** Strips with settings; each value is checked against the profile where they are taken. */
export const contentShape = lazy((value: unknown) =>
  mixed<PresetContent>()
    .required()
    .test(...stripContentTest(value)),
);

const stripContentTest = (value: unknown): [name: string, message: string, test: () => boolean] => [
  'content',
  '${path} must hold strips with settings',
  () => isRecord(value) && Object.keys(value).length > 0 && Object.values(value).every(isRecord),
];

const name = nameShape('a preset');
const folder = string().trim().max(60, 'a folder can have up to 60 characters');
const tags = array(
  string()
    .trim()
    .required('a tag needs a word')
    .max(MAX_TAG_LENGTH, `a tag can have up to ${MAX_TAG_LENGTH} characters`),
).max(MAX_TAGS, `a preset can have up to ${MAX_TAGS} tags`);

export const newPresetShape = object({
  kind: string().oneOf(PRESET_KINDS).required(),
  name: name.required('a preset needs a name'),
  folder: folder.default(''),
  tags: tags.default([]),
  note: noteShape.default(''),
  profileId: string().required().max(40),
  /** The desk it was made on, by name. */
  madeOn: string().trim().max(100).default(''),
  content: contentShape,
  by: signatureShape,
  /** What to do where one of its kind has the name: `ask` refuses. */
  taken: string()
    .oneOf(['ask', 'replace', 'keep both'] as const)
    .default('ask'),
})
  .noUnknown()
  .required();

export const presetEditShape = object({
  name: name.optional(),
  folder: folder.optional(),
  tags: tags.optional().default(undefined),
  note: noteShape.optional(),
  favourite: boolean().optional(),
  /** Whether a fresh strip, or a new processor of its kind, starts from it. */
  starts: boolean().optional(),
  revision: number().integer().required(),
})
  .noUnknown()
  .required();

/** Writes other settings into a preset, under its name; what it held can be had back. */
export const newEditionShape = object({
  content: lazy((value: unknown) =>
    value === undefined ? mixed<PresetContent>().optional() : mixed<PresetContent>().test(...stripContentTest(value)),
  ),
  /** The strip whose settings these are: it comes from the new edition then, as it stands. */
  from: object({ deskId: idShape.required(), strip: string().required().max(12) })
    .noUnknown()
    .optional()
    .default(undefined),
  /** An earlier edition to be had back instead. */
  edition: number().integer().min(1).optional(),
  by: signatureShape,
  revision: number().integer().required(),
})
  .noUnknown()
  .required();

/** A strip that comes from a preset. */
const appliedPresetShape = object({
  strip: string().required().max(12),
  presetId: idShape.required(),
  edition: number().integer().required(),
}).noUnknown();

/** Settings that are to be put on a desk, and what they are. */
export const stagedSettingsShape = object({
  deskId: idShape.required(),
  /** "Wren’s voice on Tam vox". */
  title: string().trim().required().max(200),
  settings: valuesByAddress(MOST_SETTINGS).required(),
  appliedPresets: array(appliedPresetShape).max(512).default([]),
  /** True if preamp gains were set for another source; the preview then warns. */
  gainFromOtherSource: boolean().default(false),
})
  .noUnknown()
  .required();

export type NewPreset = InferType<typeof newPresetShape>;
export type PresetEdit = InferType<typeof presetEditShape>;
export type NewEdition = InferType<typeof newEditionShape>;
export type NewStagedSettings = InferType<typeof stagedSettingsShape>;
/** A preset on a strip of a desk. */
export interface AppliedPreset {
  readonly strip: string;
  readonly presetId: string;
  readonly edition: number;
}

export interface StagedSettings {
  readonly id: string;
  readonly deskId: string;
  readonly title: string;
  readonly settings: SettingsByAddress;
  readonly appliedPresets: readonly AppliedPreset[];
  readonly gainFromOtherSource: boolean;
}

/** A preset without what it holds. */
export interface PresetView {
  readonly id: string;
  readonly kind: PresetKind;
  readonly name: string;
  readonly folder: string;
  readonly tags: readonly string[];
  readonly note: string;
  readonly favourite: boolean;
  readonly starts: boolean;
  readonly profileId: string;
  readonly madeOn: string;
  readonly by: string;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
  /** Counts up with what is written into it. */
  readonly edition: number;
  /** A word for what is in it: "EQ", "drive", "4 strips". */
  readonly gist: string;
  readonly binnedAt: string | null;
  readonly revision: number;
}

/** A preset with what it holds, and what it held before, the newest first. */
export interface PresetDetail extends PresetView {
  readonly content: PresetContent;
  readonly earlier: readonly { readonly edition: number; readonly by: string; readonly madeAt: string }[];
}

/** A strip of a desk that came from a preset, and what landed on it then. */
export interface PresetOrigin {
  readonly strip: string;
  readonly presetId: string;
  readonly presetName: string;
  readonly edition: number;
  readonly appliedSettings: SettingsByAddress;
}
