/** What people may do, from the least to the most: each may do what those before it may. */
export const ROLES = ['viewer', 'assistant', 'engineer', 'owner'] as const;
export type Role = (typeof ROLES)[number];

/**
 * What asking for something takes: a role or one that may do more; `in the studio`, what reaches a desk, an assistant while it is in
 * the studio, else an engineer; `nothing`, what may be asked before one is let in.
 */
export type Access = Role | 'in the studio' | 'nothing';

/** Whether a role, or none, may do what takes so much. */
export function mayDo(access: Access, role: Role | null, isStudio: boolean): boolean {
  if (access === 'nothing') return true;
  if (role === null) return false;
  const least: Role = access === 'in the studio' ? (isStudio ? 'assistant' : 'engineer') : access;
  return ROLES.indexOf(role) >= ROLES.indexOf(least);
}

/** The role that may do least. */
export const lowest = (roles: readonly [Role, ...Role[]]): Role =>
  roles.reduce((least, role) => (ROLES.indexOf(role) < ROLES.indexOf(least) ? role : least));
