import { type InferType, number, object, string } from 'yup';

import { MAX_PROFILE_ID } from '../desk/profile-source';

/** A host by its name or its IPv4 address. */
const HOST = /^[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i;

export const hostShape = string()
  .trim()
  .max(253, 'an address can have up to 253 characters')
  .matches(HOST, 'an address is a name, or four numbers with dots: 192.168.1.20');

export const portShape = number()
  .integer('a port is a whole number')
  .min(1, 'a port is a number from 1 to 65535')
  .max(65_535, 'a port is a number from 1 to 65535');

export const profileIdShape = string().max(MAX_PROFILE_ID);

/** A desk to be tried: its model, and where it is. */
export const linkTrialShape = object({
  profileId: profileIdShape.required('a desk model must be chosen'),
  host: hostShape.required('an address is missing'),
  port: portShape.required('a port is missing'),
})
  .noUnknown()
  .required();

export type NewLinkTrial = InferType<typeof linkTrialShape>;
