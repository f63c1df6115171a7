import { type InferType, object, string } from 'yup';

import { nameShape } from '../fault/text-shapes';
import { type Scope, scopeShape } from '../recall/scope-rules';

/** A scope saved under a name of its own, for all desks of one kind. */
export const namedScopeShape = object({
  profileId: string().required().max(64),
  name: nameShape('a scope').required('a scope needs a name'),
  scope: scopeShape,
})
  .noUnknown()
  .required();

export type NewScope = InferType<typeof namedScopeShape>;

export interface NamedScope {
  readonly id: string;
  readonly name: string;
  readonly scope: Scope;
}
