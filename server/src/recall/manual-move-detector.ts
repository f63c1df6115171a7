import { readAddress } from '@old-echo/core/desk/address';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import type { DeskMirror } from '../desk/desk-mirror';

/**
 * Notices hands on the desk from the moment it is made. The desk itself says what a hand moved, and takes nothing of ours over it
 * until we have heard of that; from then on what the hand moved is left alone.
 */
export class ManualMoveDetector {
  readonly stop: () => void;
  private readonly moved = new Set<string>();
  private readonly movedStrips = new Set<string>();
  private readonly guards = new Set<string>();

  /** @param holding what a hand keeps to itself: the control it moved, or its whole strip */
  constructor(
    session: DeskMirror,
    private readonly holding: 'control' | 'strip',
  ) {
    this.stop = session.listen((event) => {
      if (event.type === 'hands') this.noted(event.settings);
    });
  }

  /** Of a strip that is muted for the restore the mute is opened again, whatever else a hand does to the strip. */
  guard(strips: Iterable<string>): void {
    for (const strip of strips) this.guards.add(`${strip}/mute/on`);
  }

  /** Whether a hand has moved exactly this. */
  readonly holds = (address: string): boolean => this.moved.has(address);

  /** Whether a setting must not be sent any more because a hand has taken it. */
  readonly isExcluded = (address: string): boolean =>
    this.moved.has(address) ||
    (this.holding === 'strip' && this.movedStrips.has(readAddress(address)?.strip ?? '') && !this.guards.has(address));

  private noted(settings: SettingsByAddress): void {
    for (const address of Object.keys(settings)) {
      this.moved.add(address);
      this.movedStrips.add(readAddress(address)?.strip ?? '');
    }
  }
}
