import { object, string } from 'yup';

import { MAX_PERSON_NAME_LENGTH } from '../fault/text-shapes';

/** A phone or a computer on the network that was let in. */
export interface DeviceView {
  readonly id: string;
  readonly name: string;
  /** ISO 8601, as are the others. */
  readonly madeAt: string;
  /** When it last asked for something, to the minute. */
  readonly seenAt: string;
}

/** How long a code is good for, in s. */
export const ENTRY_CODE_S = 120;

/** How one more device gets in: once, and not for long. */
export interface EntryCode {
  readonly code: string;
  readonly endsAt: string;
  /** Where the device opens Old Echo, the likeliest first. */
  readonly addresses: readonly string[];
}

/** What a device says that wants in. */
export const entryShape = object({
  code: string().max(64).required('a code is missing'),
  name: string()
    .trim()
    .min(1, 'a device needs a name')
    .max(MAX_PERSON_NAME_LENGTH, `a name can have up to ${MAX_PERSON_NAME_LENGTH} characters`)
    .required('a device needs a name'),
})
  .noUnknown()
  .required();
