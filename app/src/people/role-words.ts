import type { Role } from '@old-echo/core/contracts/role';

/** What roles are called. */
export const ROLE_NAMES: Readonly<Record<Role, string>> = {
  viewer: 'Viewer',
  assistant: 'Assistant',
  engineer: 'Engineer',
  owner: 'Owner',
};

/** What each may do, beyond those before it. */
export const ROLE_MEANS: Readonly<Record<Role, string>> = {
  viewer: 'Looks, listens and compares',
  assistant: 'Captures and writes notes too; reaches a desk in studio mode only',
  engineer: 'Everything about desks and mixes',
  owner: 'Lets people in and shuts them out besides',
};
