import { readAddress } from '@old-echo/core/desk/address';
import { specAt } from '@old-echo/core/desk/profile';
import { isNumberSpec, type Value } from '@old-echo/core/desk/setting';
import { valueAt, type Settings } from '@old-echo/core/desk/state';

import type { DeskSession } from '../sessions/session';
import { stands } from './confirm';

/** A desk that rounds more coarsely than its profile says answers within this many steps of what it was sent. */
const ROUNDING = 5;

/**
 * Notices hands on the desk during a restore. A setting of a strip in the plan that moves to where neither the restore
 * sends it nor it was before was moved by someone at the desk, and they win.
 */
export class HandWatch {
  /** Strips that a hand moved. */
  readonly strips = new Set<string>();
  readonly stop: () => void;
  private readonly planned = new Set<string>();
  private readonly guards = new Set<string>();
  /**
   * What a setting may still be heard at: where it was last heard, and all it was sent since, in order. Values come back in
   * the order in which they were sent, so what lies behind cannot be an echo of ours any more.
   */
  private readonly ours = new Map<string, Value[]>();
  private readonly fading = new Set<string>();
  /** Where hands put what they moved. */
  private readonly handMoved = new Map<string, Value>();

  constructor(private readonly session: DeskSession) {
    this.stop = session.listen((event) => {
      if (event.type === 'moved')
        for (const [address, value] of Object.entries(event.settings)) this.heard(address, value);
    });
  }

  /** Watches these strips as well. Of a guarded strip the mute is opened again, whatever else a hand does to the strip. */
  watch(strips: Iterable<string>, guarded: Iterable<string>): void {
    for (const strip of strips) this.planned.add(strip);
    for (const strip of guarded) this.guards.add(`${strip}/mute/on`);
  }

  /** Notes what is about to be sent; `fading` if more will follow at once. */
  sending(settings: Iterable<readonly [address: string, value: Value]>, fading = false): void {
    for (const [address, value] of settings) {
      const known = this.ours.get(address) ?? [valueAt(this.session.state, address) as Value];
      known.push(value);
      this.ours.set(address, known);
      if (fading) this.fading.add(address);
      else this.fading.delete(address);
    }
  }

  /** Whether a setting must not be sent because a hand has taken its strip. */
  readonly leaveAlone = (address: string): boolean =>
    this.strips.has(readAddress(address)?.strip ?? '') && (!this.guards.has(address) || this.handMoved.has(address));

  /** What hands moved and something of ours, already on its way, has moved again. */
  overrun(): Settings {
    const { session } = this;
    const over = [...this.handMoved].filter(([address, value]) => {
      const now = valueAt(session.state, address);
      return (
        !stands(session, address, value, now) &&
        (this.ours.get(address) ?? []).some((own) => stands(session, address, own, now))
      );
    });
    return Object.fromEntries(over);
  }

  private heard(address: string, value: Value): void {
    const strip = readAddress(address)?.strip ?? '';
    if (!this.planned.has(strip)) return;
    const known = this.ours.get(address) ?? [];
    const at = known.findIndex((own) => stands(this.session, address, own, value));
    if (at >= 0) return void known.splice(0, at);
    if (!this.fading.has(address) && this.isRounded(address, value, known.at(-1))) return;
    this.strips.add(strip);
    this.handMoved.set(address, value);
  }

  private isRounded(address: string, value: Value, sent: Value | undefined): boolean {
    const spec = specAt(this.session.profile, address);
    return (
      spec !== undefined &&
      isNumberSpec(spec) &&
      sent !== undefined &&
      Math.abs(Number(value) - Number(sent)) <= ROUNDING * spec.step
    );
  }
}
