import type { Profile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';

import type { WireLog } from './wire-log';

/** What a link tells its listeners, in the order in which it learned of it. */
export type LinkEvent =
  /** The desk answers and is being watched. Everything known before may be out of date. */
  | { readonly type: 'linked' }
  /** The desk no longer answers, or is not the desk that was expected. `why` is a sentence. */
  | { readonly type: 'unlinked'; readonly why: string }
  /** Values that the desk holds, newest last: what moved, whoever moved it, and what was read. */
  | { readonly type: 'settings-changed'; readonly settings: SettingsByAddress }
  /** What someone else than this link has put where it is: a hand on the desk, or another program. Each move is told once. */
  | { readonly type: 'hands'; readonly settings: SettingsByAddress }
  /** More moved than can be told one by one: read everything again. */
  | { readonly type: 'resync' }
  /** The desk would not take a value. */
  | { readonly type: 'refused'; readonly address: string; readonly why: string };

/**
 * How Old Echo talks to a desk. Any implementation must pass the suite in `conformance.ts`.
 * Reading, writing and catching up throw a Fault `link-lost` while the desk does not answer.
 */
export interface DeskLink {
  readonly profile: Profile;
  readonly linked: boolean;
  /** The last packets there and back; undefined where there is no wire. */
  readonly wireLog: WireLog | undefined;
  /** Every setting of the desk. A setting that moves meanwhile may be old here; listeners are told the newest. */
  readAll(): Promise<State>;
  /** The named settings, as the desk held them after this call was made. */
  read(addresses: readonly string[]): Promise<SettingsByAddress>;
  /** Resolves when listeners have been told of every move the desk made before this call. */
  caughtUp(): Promise<void>;
  /**
   * Sends values at least once, in order. Whether they arrived is known only by reading them back. A desk leaves out what someone else
   * has moved since the last move that listeners were told of.
   * @param shouldContinue asked before each packet: what may not go on is not sent any more
   */
  write(settings: SettingsByAddress, shouldContinue?: () => boolean): Promise<void>;
  /** Listens until the returned function is called. */
  listen(listener: (event: LinkEvent) => void): () => void;
  /** Stops watching and frees the port. */
  close(): Promise<void>;
}
