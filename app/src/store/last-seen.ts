import type { DeskView } from '@old-echo/core/contracts/desk';
import type { State } from '@old-echo/core/desk/state';

/** A desk as this browser saw it last. */
export interface LastSeen {
  readonly desk: DeskView;
  readonly state: State;
}

const CACHE = 'last-seen-desk';
/** Where the service worker keeps answers (scripts/web-build.mjs). */
const ANSWERS = 'last-seen';
const addressOf = (deskId: string): string => `/last-seen/${deskId}`;

/** Keeps a desk as it is seen now, for when the page is opened without the server. A comfort: where it is refused, nothing is kept. */
export async function keepLastSeen(seen: LastSeen): Promise<void> {
  try {
    const cache = await caches.open(CACHE);
    await cache.put(addressOf(seen.desk.id), new Response(JSON.stringify(seen)));
  } catch {
    // Only pages that the browser trusts have such a store, and it may be full.
  }
}

/** A desk as this browser saw it last, or undefined where it never did. */
export async function readLastSeen(deskId: string): Promise<LastSeen | undefined> {
  try {
    const kept = await (await caches.open(CACHE)).match(addressOf(deskId));
    return kept && ((await kept.json()) as LastSeen);
  } catch {
    return undefined;
  }
}

/** Forgets all that this browser has seen: it is shut out, and may be in other hands. */
export async function forgetLastSeen(): Promise<void> {
  try {
    await Promise.all([CACHE, ANSWERS].map((name) => caches.delete(name)));
  } catch {
    // Only pages that the browser trusts have such a store.
  }
}
