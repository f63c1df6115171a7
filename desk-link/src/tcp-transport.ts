import { connect, type Socket } from 'node:net';

import slip from 'slip';

import type { DeskPlace, Transport, TransportEvents } from './transport';

/** Longer than any message of a desk: what goes on without an end is no packet, in bytes. */
const LONGEST_PACKET = 64 * 1024;
/** What a desk does not take is not piled up for it, in bytes: by the time it took it, all of it would be old. */
const MOST_WAITING = 256 * 1024;

/** OSC over a TCP connection, each packet between two ENDs of SLIP (RFC 1055), as OSC 1.1 has it. */
export class TcpTransport implements Transport {
  private socket: Socket | undefined;
  ready = false;
  private closed = false;

  constructor(
    private readonly place: DeskPlace,
    private readonly events: TransportEvents,
  ) {}

  connect(): void {
    if (this.socket || this.closed) return;
    const socket = connect(this.place.port, this.place.host);
    this.socket = socket;
    socket.setNoDelay(true);
    const decoder = new slip.Decoder({
      maxMessageSize: LONGEST_PACKET,
      onMessage: this.events.onPacket,
      // A new connection begins with a new packet; nothing after what was too long can be told apart.
      onError: () => socket.destroy(),
    });
    socket.on('connect', () => {
      this.ready = true;
      this.events.onReady();
    });
    socket.on('data', (bytes: Uint8Array) => decoder.decode(bytes));
    // The end of a connection follows, and is all that counts.
    socket.on('error', () => undefined);
    socket.on('close', () => {
      this.ready = false;
      if (this.socket === socket) this.socket = undefined;
    });
  }

  send(packet: Uint8Array): void {
    if (!this.socket || !this.ready || this.socket.writableLength > MOST_WAITING) return;
    this.socket.write(slip.encode(packet));
  }

  async close(): Promise<void> {
    this.closed = true;
    const { socket } = this;
    if (!socket) return;
    await new Promise<void>((resolve) => {
      socket.once('close', () => resolve());
      socket.destroy();
    });
  }
}
