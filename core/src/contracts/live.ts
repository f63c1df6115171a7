import type { SettingsByAddress, State } from '../desk/state';
import type { DeskView } from './desk';
import type { RestoreView } from './restore';

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
  | { readonly type: 'models-changed' };
