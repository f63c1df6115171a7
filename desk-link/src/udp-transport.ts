import { createSocket, type Socket } from 'node:dgram';

import type { DeskPlace, Transport, TransportEvents } from './transport';

/** A whole desk's answers may arrive at once. */
const RECEIVED_AT_ONCE_BYTES = 4 * 1024 * 1024;

/** Datagrams to one address. Connected to it, the socket takes packets from nobody else. */
export class UdpTransport implements Transport {
  private readonly socket: Socket;
  private connection: 'none' | 'under way' | 'made' = 'none';
  private closed = false;

  constructor(
    private readonly place: DeskPlace,
    { onReady, onPacket }: TransportEvents,
  ) {
    this.socket = createSocket({ type: 'udp4', recvBufferSize: RECEIVED_AT_ONCE_BYTES });
    this.socket.on('message', onPacket);
    this.socket.on('connect', () => {
      this.connection = 'made';
      onReady();
    });
    // A desk that is switched off answers with "connection refused"; whoever waits for answers notices by itself.
    this.socket.on('error', () => {
      if (this.connection === 'under way') this.connection = 'none';
    });
  }

  get ready(): boolean {
    return this.connection === 'made';
  }

  connect(): void {
    if (this.connection !== 'none' || this.closed) return;
    this.connection = 'under way';
    this.socket.connect(this.place.port, this.place.host);
  }

  send(packet: Uint8Array): void {
    if (this.closed || this.connection !== 'made') return;
    this.socket.send(packet, (error) => {
      // The way to the desk has changed, a cable or an address: it is looked for anew. A desk that is off changes nothing.
      if (!error || ('code' in error && error.code === 'ECONNREFUSED') || this.closed || this.connection !== 'made')
        return;
      this.connection = 'none';
      this.socket.disconnect();
    });
  }

  async close(): Promise<void> {
    this.closed = true;
    // What was sent last still leaves.
    await new Promise<void>((resolve) => setImmediate(() => this.socket.close(() => resolve())));
  }
}
