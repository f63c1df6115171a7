import { PACKETS_KEPT } from '@old-echo/core/desk/logged-message';

export interface WirePacket {
  /** Counted from 1. */
  readonly number: number;
  /** In ms since 1970. */
  readonly at: number;
  readonly way: 'to the desk' | 'from the desk';
  readonly bytes: Uint8Array;
}

/** The last packets between Old Echo and one desk, as they went; what they say is made out by whoever looks. */
export class WireLog {
  private readonly packets: WirePacket[] = [];
  private count = 0;

  add(way: WirePacket['way'], bytes: Uint8Array): void {
    const at = performance.timeOrigin + performance.now();
    this.packets[this.count % PACKETS_KEPT] = { number: ++this.count, at, way, bytes };
  }

  /** The number of the newest packet; 0 before the first. */
  get last(): number {
    return this.count;
  }

  /** The packets after that of a number, as far as they are kept, the oldest first. */
  since(number: number): WirePacket[] {
    const first = Math.max(number, this.count - PACKETS_KEPT);
    return Array.from(
      { length: Math.max(0, this.count - first) },
      (_, i) => this.packets[(first + i) % PACKETS_KEPT],
    ).filter((packet) => packet !== undefined);
  }
}
