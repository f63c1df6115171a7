import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

import { parseShape } from '@old-echo/core/fault/parse-shape';
import { type Scope, scopeShape } from '@old-echo/core/recall/scope-rules';

import { readMemory } from './browser-memory';

/** By desk. */
export type HeldScopes = Readonly<Record<string, Scope>>;

export const HELD_SCOPES_KEY = 'old-echo.held-scopes';

/** What this tab held before the page was opened anew. */
function loadHeldScopes(): HeldScopes {
  try {
    const stored = Object.entries(readMemory('tab', HELD_SCOPES_KEY) ?? {});
    return Object.fromEntries(stored.map(([desk, scope]) => [desk, parseShape(scopeShape, scope)]));
  } catch {
    return {};
  }
}

/** The scope that stays on while one walks through scenes on a desk: of every scene only that comes back. */
export const heldScopeSlice = createSlice({
  name: 'heldScopes',
  initialState: loadHeldScopes,
  reducers: {
    scopeHeld: (scopes, { payload }: PayloadAction<{ deskId: string; scope: Scope }>) => ({
      ...scopes,
      [payload.deskId]: payload.scope,
    }),
    scopeReleased: (scopes, { payload }: PayloadAction<string>) =>
      Object.fromEntries(Object.entries(scopes).filter(([desk]) => desk !== payload)),
  },
});

export const { scopeHeld, scopeReleased } = heldScopeSlice.actions;
