import { array, boolean, type InferType, mixed, number, object, string, ValidationError } from 'yup';

import { assertBounded } from '../fault/bounded-input';
import { isRecord } from '../fault/is-record';
import { invalidProfile } from './invalid-profile';
import { UNPRINTABLE } from './setting';

/** The family whose one strip holds what belongs to the whole desk; it never comes back unless asked for by name. */
export const GLOBAL_FAMILY = 'desk';

/** Families through whose strips no sound goes: they move the levels or the mutes of the strips that belong to them. */
export const CONTROL_FAMILIES = ['dca', 'mutegroup'] as const;

/** Every family that a desk can have. */
export const FAMILY_IDS = [
  'in',
  'fx',
  'mix',
  'group',
  ...CONTROL_FAMILIES,
  'matrix',
  'main',
  'rack',
  GLOBAL_FAMILY,
] as const;

const sectionsShape = mixed<Record<string, Record<string, unknown>>>()
  .required()
  .test('sections', '${path} must hold sections of settings', (v) => typeof v === 'object');

/** The most strips of a family: ten times those of the largest that is known. */
export const MAX_STRIPS = 512;

/** What people read, on labels too. */
const readable = string()
  .required()
  .max(60)
  .test('printable', '${path} must be printable', (text) => !UNPRINTABLE.test(text));

/** The longest id of a profile, in characters. */
export const MAX_PROFILE_ID = 40;

const profileShape = object({
  id: string()
    .required()
    .max(MAX_PROFILE_ID)
    .matches(/^[a-z0-9-]+$/),
  name: readable,
  use: string()
    .oneOf(['studio', 'live'] as const)
    .required(),
  pace: number().integer().min(1000).optional(),
  link: mixed().optional(),
  families: array(
    object({
      id: string().oneOf(FAMILY_IDS).required(),
      manual: boolean().optional(),
      name: readable,
      one: readable,
      count: number().integer().min(1).max(MAX_STRIPS).required(),
      names: array(readable).max(MAX_STRIPS).optional(),
      sections: sectionsShape,
    }).noUnknown(),
  )
    .min(1)
    .max(16)
    .required()
    .test(
      'once',
      '${path} must hold each family once',
      // They are not looked at one by one before this.
      (families: readonly unknown[]) =>
        new Set(families.map((family) => (isRecord(family) ? family['id'] : family))).size === families.length,
    ),
}).noUnknown();

/** A profile as its file has it, before anything in it is expanded (see docs/profiles.md). */
export type ProfileSource = InferType<typeof profileShape>;
export type FamilySource = ProfileSource['families'][number];

/**
 * A profile's JSON, which has all its parts; what its settings say is looked at by `parseProfile`.
 * @throws Fault `refused-input` with the path of the first thing that is wrong
 */
export function readProfileSource(json: unknown): ProfileSource {
  assertBounded(profileShape, json);
  try {
    return profileShape.validateSync(json, { strict: true, stripUnknown: false });
  } catch (error) {
    if (error instanceof ValidationError) throw invalidProfile(error.path ?? '', error.message);
    throw error;
  }
}
