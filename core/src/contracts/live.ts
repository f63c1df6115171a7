import type { SettingsByAddress, State } from '../desk/state';
import type { DeskView } from './desk';
import type { RestoreView } from './restore';

/** Somebody else who has a page open. */
export interface Present {
  /** Empty at the machine that Old Echo runs on, as is the device. */
  readonly person: string;
  readonly device: string;
  /** The path of the page they look at. */
  readonly at: string;
}

/** What a page says over the same WebSocket: which page it is. */
export interface PageSays {
  readonly at: string;
}

/** What the server tells an open page about one desk, in order, over one WebSocket. */
export type LiveMessage =
  | { readonly type: 'desk'; readonly desk: DeskView }
  /** Everything on the desk; sent first and whenever it was read anew. */
  | { readonly type: 'full-state'; readonly state: State }
  | { readonly type: 'settings-changed'; readonly settings: SettingsByAddress }
  | { readonly type: 'restore'; readonly restore: RestoreView }
  /** Something about scenes of this desk's productions changed: fetch them again. */
  | { readonly type: 'scenes-changed'; readonly productionId: string }
  /** Productions or versions changed; told to every page, whatever desk it follows. */
  | { readonly type: 'productions-changed' }
  /** A model of desk is another: whatever was made of it has to be fetched again. Told to every page. */
  | { readonly type: 'models-changed' }
  /** Who else is here, on another device. */
  | { readonly type: 'people'; readonly others: readonly Present[] };
