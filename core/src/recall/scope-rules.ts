import { array, boolean, object, string } from 'yup';

import { GLOBAL_FAMILY } from '../desk/profile-source';

/** Stands for every strip or every section in a rule. Globals are never meant by it. */
export const WILDCARD = '*';

const names = array(string().required().max(64)).required().max(1000);

const keys = array(string().required().max(64)).max(1000).optional();

/**
 * `strips` holds strips (`in.7`), families (`in`) or `*`; `sections` holds sections or `*`. With `settings`
 * (`sends/mix.3/level`) the rule is about those alone.
 */
const scopeRuleShape = object({
  strips: names,
  sections: names,
  settings: keys,
  include: boolean().required(),
})
  // What was written in earlier days says it so.
  .from('take', 'include')
  .noUnknown();

/** A list of rules, of which the last that matches decides; where none matches, everything stays. */
export const scopeShape = array(scopeRuleShape).required().max(500);

/** A rule held by the desk: cells, or single settings of them (`sends/mix.3/level`), that no restore may touch. */
const safeShape = object({ strips: names, sections: names, settings: keys }).noUnknown();

export const safesShape = array(safeShape).required().max(500);

export interface ScopeRule {
  readonly strips: string[];
  readonly sections: string[];
  readonly settings?: string[] | undefined;
  /** Whether what it is about comes back or stays. */
  readonly include: boolean;
}
export type Scope = readonly ScopeRule[];
export type Safe = Omit<ScopeRule, 'include'>;
export type Safes = readonly Safe[];

/** The scope that brings back everything except the globals. */
export const ALL_EXCEPT_GLOBALS: Scope = [{ strips: [WILDCARD], sections: [WILDCARD], include: true }];

/** The scope that brings back everything, the globals too: for what was worked out setting by setting before. */
export const ALL_WITH_GLOBALS: Scope = [
  ...ALL_EXCEPT_GLOBALS,
  { strips: [GLOBAL_FAMILY], sections: [WILDCARD], include: true },
];
