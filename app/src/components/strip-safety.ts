import type { Profile } from '@old-echo/core/desk/profile';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import type { Safes } from '@old-echo/core/recall/scope-rules';

/** Whether all, some or none of a strip's cells are held safe. */
export type SafeExtent = 'all' | 'some' | 'none';

/** How far each strip of the desk is safe. */
export function safeExtents(profile: Profile, safes: Safes): Readonly<Record<string, SafeExtent>> {
  const { cells, settings } = compileScope(profile, [], safes);
  const single = new Set([...settings.keys()].map((address) => address.slice(0, address.indexOf('/'))));
  return Object.fromEntries(
    Object.entries(cells).map(([strip, fates]) => {
      const safe = Object.values(fates).map((fate) => fate === 'safe');
      const some = safe.includes(true) || single.has(strip);
      return [strip, safe.every(Boolean) ? 'all' : some ? 'some' : 'none'];
    }),
  );
}
