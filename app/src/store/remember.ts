import { createListenerMiddleware } from '@reduxjs/toolkit';

import { writeMemory } from './browser-memory';
import { type Drafts, DRAFTS_KEY } from './draft-slice';
import { HELD_SCOPES_KEY, type HeldScopes } from './held-scope-slice';
import { keepLastSeen } from './last-seen';
import type { liveSlice } from './live-slice';
import { type Preferences, PREFERENCES_KEY } from './preferences-slice';

interface Remembered {
  readonly place: Preferences;
  readonly heldScopes: HeldScopes;
  readonly drafts: Drafts;
  readonly live: ReturnType<typeof liveSlice.reducer>;
}

const { middleware, startListening } = createListenerMiddleware<Remembered>();

/** Writes part of the state down whenever it has changed. */
function remember<Part extends keyof Remembered>(part: Part, write: (state: Remembered[Part]) => void): void {
  startListening({
    predicate: (_, now, before) => now[part] !== before[part],
    effect: (_, api) => write(api.getState()[part]),
  });
}

// Where one is belongs to the tab; a new tab begins where the last one was.
remember('place', (place) => {
  const { deskId, productionId } = place;
  writeMemory('tab', PREFERENCES_KEY, { deskId, productionId });
  writeMemory('browser', PREFERENCES_KEY, place);
});
remember('heldScopes', (scopes) => writeMemory('tab', HELD_SCOPES_KEY, scopes));
remember('drafts', (drafts) => writeMemory('tab', DRAFTS_KEY, drafts));

/** A desk is kept as it was seen once nothing has moved for this long, in ms. */
const STILL_MS = 1000;
startListening({
  predicate: (_, now, before) =>
    now.live.heard && (now.live.state !== before.live.state || now.live.desk !== before.live.desk),
  effect: async (_, api) => {
    api.cancelActiveListeners();
    await api.delay(STILL_MS);
    const { desk, state } = api.getState().live;
    if (desk && state) await keepLastSeen({ desk, state });
  },
});

/** Keeps in the browser what outlives the page. */
export const rememberMiddleware = middleware;
