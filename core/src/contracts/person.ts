import { array, boolean, type InferType, object, string } from 'yup';

import { idShape, MAX_PERSON_NAME_LENGTH } from '../fault/text-shapes';
import type { DeviceView } from './device';
import { type Role, ROLES } from './role';

/** What somebody may do in one song or show, where that is not what they may do elsewhere. */
export interface ProductionRole {
  readonly productionId: string;
  readonly role: Role;
}

/** Somebody who uses Old Echo from elsewhere than the machine it runs on. */
export interface PersonView {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  readonly productions: readonly ProductionRole[];
  readonly hasPassword: boolean;
  /** The devices they are in by, the newest first. */
  readonly devices: readonly DeviceView[];
}

const whoseName = string()
  .trim()
  .min(1, 'a person needs a name')
  .max(MAX_PERSON_NAME_LENGTH, `a name can have up to ${MAX_PERSON_NAME_LENGTH} characters`);
const roleShape = string().oneOf(ROLES);

/** Who asks. */
export interface HereView {
  /** What they may do; null where they are not let in. */
  readonly role: Role | null;
  /** What they may do in some songs and shows. */
  readonly productions: readonly ProductionRole[];
  /** The device they ask from, and who they are; null on the machine that Old Echo runs on. */
  readonly device: DeviceView | null;
  readonly person: { readonly id: string; readonly name: string; readonly hasPassword: boolean } | null;
  /** How others on the network can get in, where they can. */
  readonly network: 'https' | 'http' | null;
}

/** Whom a code lets in: somebody who is here already, or somebody new. */
export const entryCodeShape = object({
  personId: idShape.optional(),
  name: whoseName.when('personId', { is: undefined, then: (name) => name.required('a person needs a name') }),
  role: roleShape.when('personId', { is: undefined, then: (role) => role.required('a role is missing') }),
})
  .noUnknown()
  .required();

export type WhoIsLetIn = InferType<typeof entryCodeShape>;

/** The most songs and shows in which somebody may do other things than elsewhere. */
const MOST_PRODUCTIONS = 200;

export const personEditShape = object({
  name: whoseName.optional(),
  role: roleShape.optional(),
  productions: array(object({ productionId: idShape.required(), role: roleShape.required() }).noUnknown().required())
    .max(MOST_PRODUCTIONS)
    .optional(),
})
  .noUnknown()
  .required();

export type PersonEdit = InferType<typeof personEditShape>;

/** As long as OWASP ASVS asks for at least, and lets be (4.0.3, 2.1.1 and 2.1.2). */
export const PASSWORD_LENGTH = { least: 12, most: 128 };

const newPassword = string()
  .min(PASSWORD_LENGTH.least, `a password has at least ${PASSWORD_LENGTH.least} characters`)
  .max(PASSWORD_LENGTH.most, `a password has at most ${PASSWORD_LENGTH.most} characters`);

/** A password of one's own; null has none from then on. */
export const passwordShape = object({
  /** The one until now, where there is one. */
  current: string().max(PASSWORD_LENGTH.most).default(''),
  password: newPassword.nullable().defined('a password is missing'),
  /** Whether whoever is in by the one until now on other devices is signed out there. */
  signOutOthers: boolean().default(false),
})
  .noUnknown()
  .required();

/** Whoever has a password gets in by it on another device. */
export const signInShape = object({
  name: whoseName.required('a name is missing'),
  password: string().max(PASSWORD_LENGTH.most).required('a password is missing'),
  device: string()
    .trim()
    .max(MAX_PERSON_NAME_LENGTH, `a name can have up to ${MAX_PERSON_NAME_LENGTH} characters`)
    .required('a device needs a name'),
})
  .noUnknown()
  .required();

export type SignIn = InferType<typeof signInShape>;

/** Something that somebody changed. */
export interface ChangeView {
  readonly id: string;
  /** ISO 8601. */
  readonly at: string;
  /** Empty at the machine that Old Echo runs on. */
  readonly person: string;
  readonly device: string;
  /** What it does, in one sentence, as the API's documentation has it. */
  readonly does: string;
  /** What it was done to, by its name at the time; empty where that has none. */
  readonly about: string;
}

/** Changes, the newest first. */
export interface ChangePage {
  readonly changes: readonly ChangeView[];
  /** What to ask for those before; null where there are none. */
  readonly before: string | null;
}

export const changesQueryShape = object({ before: idShape.optional() }).noUnknown().required();
