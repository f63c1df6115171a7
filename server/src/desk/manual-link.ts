import type { Profile } from '@old-echo/core/desk/profile';
import { fits } from '@old-echo/core/desk/profile-change';
import {
  addressesOf,
  defaultState,
  settingsAt,
  type SettingsByAddress,
  type State,
  withSettings,
} from '@old-echo/core/desk/state';
import type { DeskLink, LinkEvent } from '@old-echo/desk-link/link';

import type { Database } from '../database/connect';
import { enterManualSettings, manualSettings } from './manual-settings';

/** The link of a manual desk: it holds what people last said of it, and before that what a desk has that nobody has touched. */
export class ManualLink implements DeskLink {
  readonly linked = true;
  readonly wireLog = undefined;
  private readonly listeners = new Set<(event: LinkEvent) => void>();

  constructor(
    readonly profile: Profile,
    private readonly db: Database,
    private readonly deskId: string,
  ) {}

  /** As the database has it: another server may have been told meanwhile. */
  async readAll(): Promise<State> {
    // Of the wired part of its desk nobody says anything, and its model may have had more, or other ranges, than it has today.
    const entered = Object.entries(await manualSettings(this.db, this.deskId)).filter(([address, value]) =>
      fits(this.profile, address, value),
    );
    const state = withSettings(defaultState(this.profile), Object.fromEntries(entered));
    this.tell(settingsAt(state, addressesOf(this.profile)));
    return state;
  }

  async read(addresses: readonly string[]): Promise<SettingsByAddress> {
    return addresses.length > 0 ? settingsAt(await this.readAll(), addresses) : {};
  }

  async caughtUp(): Promise<void> {
    await this.readAll();
  }

  /** Enters where controls stand. */
  async write(settings: SettingsByAddress, shouldContinue: () => boolean = () => true): Promise<void> {
    if (!shouldContinue()) return;
    await enterManualSettings(this.db, this.deskId, settings);
    this.tell(settings);
  }

  listen(listener: (event: LinkEvent) => void): () => void {
    this.listeners.add(listener);
    listener({ type: 'linked' });
    return () => this.listeners.delete(listener);
  }

  close = (): Promise<void> => Promise.resolve();

  private tell(settings: SettingsByAddress): void {
    for (const listener of [...this.listeners]) listener({ type: 'settings-changed', settings });
  }
}
