import { type Profile, stripFamily } from '@old-echo/core/desk/profile';

import type { Message } from './codec';

/** Questions that ask for a whole strip: one pattern for each depth at which it has settings. */
export function stripPatterns(profile: Profile, strip: string): Message[] {
  const depths = new Set((stripFamily(profile, strip)?.keys ?? []).map((key) => key.split('/').length));
  return [...depths].map((depth) => ({ address: `/${strip}${'/*'.repeat(depth)}`, args: [] }));
}
