import { NOWHERE } from '@old-echo/core/contracts/desk';
import { isManualDesk, manualPart, wiredPart } from '@old-echo/core/desk/manual';
import type { Profile } from '@old-echo/core/desk/profile';
import { fittingState } from '@old-echo/core/desk/profile-change';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { DeskLink } from '@old-echo/desk-link/link';
import { MappedOscLink } from '@old-echo/desk-link/mapped-osc-link';
import { NoLink } from '@old-echo/desk-link/no-link';
import { OscLink } from '@old-echo/desk-link/osc-link';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import { DeskMirror, type SessionEvent } from './desk-mirror';
import { deskRow, deskRows } from './desk-store';
import { HybridLink } from './hybrid-link';
import { lastHeard } from './last-heard';
import { ManualLink } from './manual-link';
import { readStoredProfile } from './profile-store';

/** How a desk is reached: not at all while it is out of use, or where nobody has said yet where it is. */
function linkOf(db: Database, { id, name, host, port, removed_at }: DeskRow, profile: Profile): DeskLink {
  if (removed_at)
    return new NoLink(profile, `${name} is out of use.`, 'Nothing was sent. Bring it back in the settings first.');
  if (isManualDesk(profile)) return new ManualLink(profile, db, id);
  if (port === NOWHERE.port)
    return new NoLink(profile, `${name} has no address yet.`, 'Nothing was sent. Say in the settings where it is.');
  const own = wiredPart(profile);
  const wired = own.link
    ? new MappedOscLink({ profile: own, map: own.link, host, port })
    : new OscLink({ profile: own, host, port });
  return own === profile ? wired : new HybridLink(profile, wired, new ManualLink(manualPart(profile), db, id));
}

/** All desks this server is linked to. */
export class DeskConnections {
  private readonly sessions = new Map<string, DeskMirror>();
  private readonly listeners = new Set<(deskId: string, event: SessionEvent) => void>();

  /** Begins to link every desk in the database. */
  static async open(db: Database): Promise<DeskConnections> {
    const all = new DeskConnections();
    await all.connectNewDesks(db);
    return all;
  }

  /** Begins to link desks that came into the database since. */
  async connectNewDesks(db: Database): Promise<void> {
    for (const row of await deskRows(db)) if (!this.sessions.has(row.id)) await this.connect(db, row);
  }

  /** Links a desk where it is from now on, or no longer. What was last heard of it stays. */
  async reconnect(db: Database, deskId: string): Promise<void> {
    const row = await deskRow(db, deskId);
    const old = this.sessions.get(deskId);
    await this.connect(db, row, old?.state);
    await old?.close();
  }

  private async connect(db: Database, row: DeskRow, state?: State): Promise<void> {
    const profile = await readStoredProfile(db, row.profile_id);
    const before = state ?? (await lastHeard(db, row.id))?.state;
    const session = new DeskMirror(row.id, linkOf(db, row, profile), before && fittingState(profile, before));
    this.sessions.set(row.id, session);
    const tell = (event: SessionEvent) => this.listeners.forEach((listener) => listener(row.id, event));
    session.listen(tell);
    tell({ type: 'link' });
  }

  has(deskId: string): boolean {
    return this.sessions.has(deskId);
  }

  /** @throws Fault `not-found` */
  of(deskId: string): DeskMirror {
    const session = this.sessions.get(deskId);
    if (!session) throw new Fault('not-found', 'This desk no longer exists.', 'Choose one from the list of desks.');
    return session;
  }

  listen(listener: (deskId: string, event: SessionEvent) => void): void {
    this.listeners.add(listener);
  }

  async close(): Promise<void> {
    await Promise.all([...this.sessions.values()].map((session) => session.close()));
  }
}
