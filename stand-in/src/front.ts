import { randomInt } from 'node:crypto';
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram';

import type { Value } from '@old-echo/core/desk/setting';
import { ownNetworks } from '@old-echo/desk-link/broadcast-addresses';
import { decode, encodeBundles, encodeMessage, int, type Message, text } from '@old-echo/desk-link/codec';
import * as protocol from '@old-echo/desk-link/protocol';
import { toArguments } from '@old-echo/desk-link/values';

import type { Refusal, SimulatedDesk } from './desk';
import { type LineFaults, makeLine } from './line';

interface Watcher {
  readonly port: number;
  readonly host: string;
  until: number;
}

/** Changes are gathered for this long before they are pushed, in ms, so that a moving fader fills few packets. */
const GATHER = 10;
/** How many pushes are kept to be sent again. */
const KEPT_PUSHES = 2000;

/** Who moves things at the desk, or from a program that does not say who it is. */
const HAND = 0;

const PERFECT: LineFaults = { loss: 0, delay: 0, reorder: 0, seed: 1 };

/** The desk's front on the network: speaks the protocol of docs/desk-link.md on one UDP port. */
export class DeskServer {
  private socket: Socket | undefined;
  private finder: Socket | undefined;
  private line = makeLine(PERFECT);
  private frozen = false;
  private readonly watchers = new Map<string, Watcher>();
  private readonly pushes = new Map<number, Uint8Array>();
  private readonly lastWrite = new Map<string, number>();
  private readonly refusing = new Set<string>();
  /** What moved and was not pushed yet, and who moved it: a client's number, or {@link HAND}. */
  private readonly unpushed = new Map<string, number>();
  /** Who moved each setting last, and with which push that was told. */
  private readonly movers = new Map<string, { readonly by: number; readonly at: number }>();
  private pushTimer: NodeJS.Timeout | undefined;
  private number = 0;
  private boot = randomInt(1, 2 ** 31 - 1);

  constructor(
    readonly desk: SimulatedDesk,
    private readonly host = '127.0.0.1',
    private readonly onMove: () => void = () => undefined,
  ) {}

  /** Opens the port (0 for a free one) and returns its number. */
  async open(port: number): Promise<number> {
    const socket = createSocket({ type: 'udp4', recvBufferSize: 4 * 1024 * 1024 });
    socket.on('message', (bytes, from) => this.line(() => this.receive(bytes, from)));
    await new Promise<void>((resolve, reject) => {
      socket.once('error', reject);
      socket.bind(port, this.host, resolve);
    });
    socket.on('error', () => undefined);
    this.socket = socket;
    return socket.address().port;
  }

  /**
   * Answers a hello that was sent to all of its network, from the port of the conversation: where the answer comes from is where it is.
   * Where that port is not to be had the desk cannot be found, and can be used all the same.
   */
  async beFound(port = protocol.FIND_PORT): Promise<void> {
    const network = ownNetworks().find(({ address }) => address === this.host);
    if (!network) return;
    const finder = createSocket({ type: 'udp4', reuseAddr: true });
    finder.on('message', (bytes, from) => {
      if (decode(bytes)?.[0]?.address === protocol.HELLO) this.line(() => this.receive(bytes, from));
    });
    finder.on('error', () => undefined);
    this.finder = finder;
    await new Promise<void>((resolve) => {
      finder.once('error', () => resolve());
      finder.bind(port, network.broadcast, resolve);
    });
  }

  /** Switches the desk off: it forgets who watched, and starts as a new one when it is opened again. */
  async close(): Promise<void> {
    clearTimeout(this.pushTimer);
    this.pushTimer = undefined;
    this.watchers.clear();
    this.pushes.clear();
    this.lastWrite.clear();
    this.movers.clear();
    this.number = 0;
    this.boot = randomInt(1, 2 ** 31 - 1);
    this.finder?.close();
    this.finder = undefined;
    const socket = this.socket;
    this.socket = undefined;
    if (socket) await new Promise<void>((resolve) => socket.close(() => resolve()));
  }

  misbehave(faults: Partial<LineFaults>): void {
    this.line = makeLine({ ...PERFECT, ...faults });
  }

  /** A frozen desk hears nothing and says nothing. */
  freeze(frozen: boolean): void {
    this.frozen = frozen;
  }

  /** Refuses every write to these addresses from now on. */
  refuse(addresses: readonly string[]): void {
    this.refusing.clear();
    for (const address of addresses) this.refusing.add(address);
  }

  /** Hands on the desk: moves controls and tells the watchers. Returns how many moved. */
  hands(moves: Readonly<Record<string, unknown>>): number {
    const moved = Object.entries(moves).filter(([address, value]) => this.desk.move(address, value));
    for (const [address] of moved) this.pushLater(address, HAND);
    return moved.length;
  }

  private receive(bytes: Uint8Array, from: RemoteInfo): void {
    const messages = this.frozen ? undefined : decode(bytes);
    const [head] = messages ?? [];
    if (!messages || !head) return;
    const numbers = head.args.map((a) => Number(a.value));
    switch (head.address) {
      case protocol.HELLO:
        return this.reply(from, [
          encodeMessage({
            address: protocol.DESK,
            args: [text(this.desk.profile.id), text(this.desk.profile.name), int(this.boot)],
          }),
        ]);
      case protocol.WATCH:
        return this.watch(from, numbers[0] ?? protocol.WATCH_LEASE_MS);
      case protocol.PING:
        // An answer names everything that has moved so far.
        if (this.unpushed.size > 0) this.push();
        return this.reply(from, [
          encodeMessage({ address: protocol.PONG, args: [int(numbers[0] ?? 0), int(this.number), int(this.boot)] }),
        ]);
      case protocol.RESEND:
        return this.pushAgain(from, numbers[0] ?? 0, numbers[1] ?? 0);
      case protocol.READ:
        return this.answer(from, messages.slice(1), numbers[0] ?? 0);
      case protocol.WRITE:
        return this.write(from, messages.slice(1), numbers[0] ?? HAND, numbers[1] ?? 0, numbers[2]);
      default: {
        const queries = messages.filter((m) => m.args.length === 0);
        if (queries.length > 0) this.answer(from, queries, 0);
        const writes = messages.filter((m) => m.args.length > 0);
        if (writes.length > 0) this.write(from, writes);
      }
    }
  }

  private watch(from: RemoteInfo, lease: number): void {
    const name = `${from.address}:${from.port}`;
    if (lease <= 0) this.watchers.delete(name);
    else
      this.watchers.set(name, {
        host: from.address,
        port: from.port,
        until: performance.now() + Math.min(lease, 60_000),
      });
    this.reply(from, [encodeMessage({ address: protocol.WATCHING, args: [int(lease), int(this.number)] })]);
  }

  private answer(from: RemoteInfo, queries: readonly Message[], token: number): void {
    // Else two answers could bear the same number and different values, and one could not tell which is the newer.
    if (this.unpushed.size > 0) this.push();
    const values = new Set(queries.flatMap((q) => this.desk.named(q.address)));
    const messages = [...values].map((address) => this.valueMessage(address));
    this.reply(
      from,
      encodeBundles(messages, () => ({ address: protocol.VALUES, args: [int(this.number), int(token)] })),
    );
  }

  /**
   * Takes writes, leaving out those that a newer write of the same client has overtaken on the way, and what someone else has moved
   * since the last push the client had heard of.
   */
  private write(from: RemoteInfo, writes: readonly Message[], client = HAND, number = 0, seen = Infinity): void {
    const refusals: Refusal[] = [];
    for (const message of writes) {
      const address = message.address.slice(1);
      const last = `${client} ${address}`;
      if (client !== HAND) {
        if (this.isHeldFrom(address, client, seen)) continue;
        if ((this.lastWrite.get(last) ?? 0) > number) continue;
        this.lastWrite.set(last, number);
      }
      if (this.refusing.has(address)) {
        refusals.push({ address, why: 'the desk is not taking it at the moment' });
        continue;
      }
      const { moved, refused } = this.desk.take(message);
      if (moved) this.pushLater(moved, client);
      if (refused) refusals.push(refused);
    }
    if (refusals.length > 0)
      this.reply(
        from,
        encodeBundles(refusals.map((r) => ({ address: protocol.REFUSED, args: [text(r.address), text(r.why)] }))),
      );
  }

  private isHeldFrom(address: string, client: number, seen: number): boolean {
    const unpushed = this.unpushed.get(address);
    if (unpushed !== undefined && unpushed !== client) return true;
    const last = this.movers.get(address);
    return last !== undefined && last.by !== client && last.at > seen;
  }

  private pushLater(address: string, by: number): void {
    // Where someone else put it is told even when it is moved again at once.
    if ((this.unpushed.get(address) ?? by) !== by) this.push();
    this.unpushed.set(address, by);
    this.onMove();
    this.pushTimer ??= setTimeout(() => this.push(), GATHER);
  }

  private push(): void {
    clearTimeout(this.pushTimer);
    this.pushTimer = undefined;
    const all = [...this.unpushed];
    this.unpushed.clear();
    for (const by of new Set(all.map(([, mover]) => mover)))
      this.pushOf(
        by,
        all.flatMap(([address, mover]) => (mover === by ? [address] : [])),
      );
  }

  private pushOf(by: number, addresses: readonly string[]): void {
    // Each bundle is a push of its own, so that a gap names exactly what is missing.
    const first = this.number + 1;
    const head = () => ({ address: protocol.PUSH, args: [int(++this.number), int(by)] });
    const packets = encodeBundles(
      addresses.map((address) => this.valueMessage(address)),
      head,
    );
    packets.forEach((packet, i) => {
      this.pushes.set(first + i, packet);
      this.pushes.delete(first + i - KEPT_PUSHES);
      this.toWatchers(packet);
    });
    for (const address of addresses) this.movers.set(address, { by, at: this.number });
  }

  private pushAgain(from: RemoteInfo, first: number, last: number): void {
    for (let n = first; n <= Math.min(last, this.number); n++) {
      const packet = this.pushes.get(n);
      if (packet) this.reply(from, [packet]);
      else return this.reply(from, [encodeMessage({ address: protocol.EXPIRED, args: [int(first), int(last)] })]);
    }
  }

  private valueMessage(address: string): Message {
    return { address: `/${address}`, args: toArguments(this.desk.value(address) as Value) };
  }

  private toWatchers(packet: Uint8Array): void {
    for (const [name, watcher] of this.watchers) {
      if (watcher.until < performance.now()) this.watchers.delete(name);
      else this.reply({ address: watcher.host, port: watcher.port }, [packet]);
    }
  }

  private reply(to: { address: string; port: number }, packets: readonly Uint8Array[]): void {
    if (this.frozen) return;
    for (const packet of packets) this.line(() => this.socket?.send(packet, to.port, to.address, () => undefined));
  }
}
