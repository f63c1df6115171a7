import type { Profile } from '@old-echo/core/desk/profile';
import { type State, validateSettings, withSettings } from '@old-echo/core/desk/state';

import type { Keys } from './sound';

/** What moves from one scene to the next: strips and their settings. */
export type Moves = Readonly<Record<string, Keys>>;

/** The state after some moves, each at the desk's own resolution; a setting the desk does not have is an error. */
export function after(profile: Profile, state: State, moves: Moves): State {
  const settings = Object.fromEntries(
    Object.entries(moves).flatMap(([strip, keys]) =>
      Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value]),
    ),
  );
  return withSettings(state, validateSettings(profile, settings));
}

export interface Told {
  readonly name: string;
  readonly note?: string;
  readonly milestone?: string;
  readonly tags?: readonly string[];
  readonly protected?: boolean;
  readonly isAtHand?: boolean;
  /** Kept by Old Echo itself: nothing comes from it. */
  readonly kind?: 'rested';
  /** Minutes before the demo was made. */
  readonly ago: number;
  readonly moves: Moves;
}
