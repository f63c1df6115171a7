import { readAddress } from '@old-echo/core/desk/address';
import type { Value } from '@old-echo/core/desk/setting';
import type { Preview } from '@old-echo/core/preview/preview';

import type { DeskSession } from '../sessions/session';
import { stands } from './confirm';

/**
 * Notices hands on the desk during a restore. A setting of a strip in the plan that moves to where neither the restore
 * sends it nor it was before was moved by someone at the desk, and they win.
 */
export class HandWatch {
  /** Strips that a hand moved. */
  readonly strips = new Set<string>();
  readonly stop: () => void;
  private readonly ours = new Map<string, Value[]>();
  private readonly handMoved = new Set<string>();

  constructor(
    session: DeskSession,
    plan: Preview,
    /** Mutes closed for the restore: they are opened again whatever else a hand does to the strip. */
    private readonly guards: ReadonlySet<string>,
  ) {
    const planned = new Set(plan.changes.map((change) => change.strip));
    for (const change of plan.changes) this.ours.set(change.address, [change.from]);
    this.stop = session.listen((event) => {
      if (event.type !== 'moved') return;
      for (const [address, value] of Object.entries(event.settings)) {
        const strip = readAddress(address)?.strip ?? '';
        const known = this.ours.get(address) ?? [];
        if (!planned.has(strip) || known.some((own) => stands(session, address, own, value))) continue;
        this.strips.add(strip);
        this.handMoved.add(address);
      }
    });
  }

  /** Notes what is about to be sent. */
  sending(changes: readonly (readonly [address: string, value: Value])[]): void {
    for (const [address, value] of changes) this.ours.set(address, [...(this.ours.get(address) ?? []), value]);
  }

  /** Whether a setting must not be sent because a hand has taken its strip. */
  readonly leaveAlone = (address: string): boolean =>
    this.strips.has(readAddress(address)?.strip ?? '') && (!this.guards.has(address) || this.handMoved.has(address));
}
