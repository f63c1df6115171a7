import { Fault } from '@old-echo/core/fault/fault';
import { OscLink } from '@old-echo/desk-link/osc-link';

import type { Database } from '../database/connect';
import { DeskMirror, type SessionEvent } from './desk-mirror';
import { deskRows } from './desk-store';
import { lastHeard } from './last-heard';
import { readStoredProfile } from './profile-store';

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
    for (const row of await deskRows(db)) {
      if (this.sessions.has(row.id)) continue;
      const profile = await readStoredProfile(db, row.profile_id);
      const before = await lastHeard(db, row.id);
      const wire = new OscLink({ profile, host: row.host, port: row.port });
      const session = new DeskMirror(row.id, wire, before?.state);
      session.listen((event) => this.listeners.forEach((listener) => listener(row.id, event)));
      this.sessions.set(row.id, session);
    }
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
