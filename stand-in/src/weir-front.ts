import { createSocket, type Socket } from 'node:dgram';
import { createServer, type Server, type Socket as Connection } from 'node:net';

import slip from 'slip';

import { decodeWidely, encodeMessage, type WireMessage } from '@old-echo/desk-link/codec';

import type { SimulatedDesk } from './desk';
import { type LineFaults, makeLine } from './line';
import { NO_QUIRKS, type Quirks, WeirScheme } from './weir-scheme';

/** How it behaves on the network. */
export interface FrontQuirks extends Quirks {
  readonly transport: 'udp' | 'tcp';
  /** Whom it tells of what moves: all who have spoken to it, those who said so lately, nobody. */
  readonly tells: 'speakers' | 'subscribers' | 'nobody';
  /** Longest time before it answers, in ms. */
  readonly late: number;
}

/** How long a subscription lasts, in ms. */
const SUBSCRIBED_MS = 2000;
const PERFECT: LineFaults = { loss: 0, delay: 0, reorder: 0, seed: 1 };

interface Listener {
  readonly send: (packet: Uint8Array) => void;
  until: number;
}

/** The network side of the Weir 16, a desk that speaks an OSC of its own: it numbers nothing, and refuses nothing aloud. */
export class WeirFront {
  private readonly scheme: WeirScheme;
  private readonly quirks: FrontQuirks;
  private readonly listeners = new Map<string, Listener>();
  private socket: Socket | undefined;
  private server: Server | undefined;
  private readonly connections = new Set<Connection>();
  private line = makeLine(PERFECT);
  private frozen = false;
  private refusing = new Set<string>();

  constructor(
    readonly desk: SimulatedDesk,
    quirks: Partial<FrontQuirks> = {},
    private readonly onMove: () => void = () => undefined,
  ) {
    this.quirks = { ...NO_QUIRKS, transport: 'udp', tells: 'speakers', late: 0, ...quirks };
    this.scheme = new WeirScheme(desk, this.quirks);
  }

  /** Opens the port (0 for a free one) and returns its number. */
  open(port: number, host = '127.0.0.1'): Promise<number> {
    return this.quirks.transport === 'udp' ? this.openUdp(port, host) : this.openTcp(port, host);
  }

  async close(): Promise<void> {
    this.listeners.clear();
    const { socket, server } = this;
    [this.socket, this.server] = [undefined, undefined];
    this.connections.forEach((connection) => connection.destroy());
    if (socket) await new Promise<void>((resolve) => socket.close(() => resolve()));
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }

  misbehave(faults: Partial<LineFaults>): void {
    this.line = makeLine({ ...PERFECT, ...faults });
  }

  freeze(frozen: boolean): void {
    this.frozen = frozen;
  }

  /** Takes no value for these from now on, and says nothing of it. */
  refuse(settings: readonly string[]): void {
    this.refusing = new Set(settings);
  }

  hands(moves: Readonly<Record<string, unknown>>): number {
    const moved = Object.entries(moves).filter(([setting, value]) => this.desk.move(setting, value));
    this.tell(moved.map(([setting]) => setting));
    return moved.length;
  }

  private async openUdp(port: number, host: string): Promise<number> {
    const socket = createSocket({ type: 'udp4', recvBufferSize: 4 * 1024 * 1024 });
    await new Promise<void>((resolve, reject) => {
      socket.once('error', reject);
      socket.bind(port, host, resolve);
    });
    socket.on('error', () => undefined);
    socket.on('message', (bytes, from) => {
      // Answers that are late may find the desk switched off.
      const send = (packet: Uint8Array) => this.socket?.send(packet, from.port, from.address, () => undefined);
      this.receive(bytes, `${from.address}:${from.port}`, send);
    });
    this.socket = socket;
    return socket.address().port;
  }

  private async openTcp(port: number, host: string): Promise<number> {
    const server = createServer((connection) => {
      const name = `${connection.remoteAddress}:${connection.remotePort}`;
      this.connections.add(connection);
      const decoder = new slip.Decoder({
        maxMessageSize: 65_536,
        onMessage: (bytes) => this.receive(bytes, name, (packet) => connection.write(slip.encode(packet))),
        onError: () => connection.destroy(),
      });
      connection.on('data', (bytes: Uint8Array) => decoder.decode(bytes));
      connection.on('error', () => undefined);
      connection.on('close', () => {
        this.connections.delete(connection);
        this.listeners.delete(name);
      });
    });
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, host, resolve);
    });
    this.server = server;
    const address = server.address();
    return typeof address === 'object' && address ? address.port : port;
  }

  private receive(bytes: Uint8Array, from: string, send: Listener['send']): void {
    this.line(() => {
      if (this.frozen) return;
      const onLine = (packet: Uint8Array) => this.line(() => send(packet));
      for (const message of decodeWidely(bytes)) {
        this.keep(message, from, onLine);
        const answer = this.scheme.answer(message);
        if (answer) setTimeout(() => this.say(answer, onLine), Math.random() * this.quirks.late);
        else if (!this.refusing.has(message.address)) this.tell(this.takeUnlessRefused(message));
      }
    });
  }

  private takeUnlessRefused(message: WireMessage): string[] {
    const held = [...this.refusing].filter((setting) => this.scheme.messageOf(setting)?.address === message.address);
    return held.length > 0 ? [] : this.scheme.take(message);
  }

  private keep({ address }: WireMessage, from: string, send: Listener['send']): void {
    const { tells } = this.quirks;
    if (tells === 'speakers' || (tells === 'subscribers' && address === '/keep'))
      this.listeners.set(from, { send, until: tells === 'speakers' ? Infinity : performance.now() + SUBSCRIBED_MS });
  }

  /** Whoever moved it, everyone who listens is told. */
  private tell(settings: readonly string[]): void {
    if (settings.length > 0) this.onMove();
    const messages = new Map(
      settings.flatMap((setting) => {
        const message = this.scheme.messageOf(setting);
        return message ? [[message.address, message] as const] : [];
      }),
    );
    for (const [name, { send, until }] of this.listeners)
      if (until < performance.now()) this.listeners.delete(name);
      else for (const message of messages.values()) this.say(message, send);
  }

  private say(message: WireMessage, send: Listener['send']): void {
    if (!this.frozen) send(encodeMessage(message));
  }
}
