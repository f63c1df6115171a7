import { randomInt } from 'node:crypto';

import { readAddress } from '@old-echo/core/desk/address';
import { type Profile, specOf, stripFamily } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, type State, stripAddresses } from '@old-echo/core/desk/state';
import type { Fault } from '@old-echo/core/fault/fault';

import { AwakeClock } from './awake-clock';
import { decode, encodeBundles, encodeMessage, int, type Message } from './codec';
import type { DeskLink, LinkEvent } from './link';
import { linkLost, unread } from './link-lost';
import { openTransport } from './open-transport';
import * as protocol from './protocol';
import { PushSequencer } from './push-order';
import { stripPatterns } from './strip-patterns';
import type { DeskPlace, Transport } from './transport';
import { fromArguments, toArguments } from './values';
import { WireLog } from './wire-log';

interface OscLinkOptions extends DeskPlace {
  readonly profile: Profile;
  /** Time between heartbeats, in ms. */
  readonly beat?: number;
  /** How long a desk may be silent before it counts as gone, in ms. */
  readonly patience?: number;
}

/** One question that is waiting for its values. */
interface Question {
  readonly missing: Set<string>;
  /** What was answered, and is no value of its setting. */
  readonly strange: Set<string>;
  readonly found: Record<string, Value>;
  /** Called when all has arrived, or with the reason why it will not. */
  readonly done: (fault?: Fault) => void;
}

/** Someone who waits until everything is known that the desk had pushed when it answered a ping. */
interface CatchUp {
  readonly beat: number;
  /** The newest push the desk named in its answer. */
  pushed?: number;
  readonly done: (fault?: Fault) => void;
}

/** Strips asked for at the same time while everything is read; few enough not to overrun a desk's buffers. */
const STRIPS_AT_ONCE = 12;
/** Packets written before the sockets get a breath. */
const PACKETS_AT_ONCE = 8;
const FIRST_WAIT = 60;
const LONGEST_WAIT = 400;
/** A number of a push this far ahead of the last is no gap that could be fetched: whoever sent it is looked at anew. */
const MAX_GAP = 20_000;
/** Tries for one question before it is given up. At 30 % loss one in 10^5 questions needs more than fifteen. */
const MOST_TRIES = 20;

/** A {@link DeskLink} over OSC 1.0 and UDP. Begins to look for the desk as soon as it is made, and goes on for ever. */
export class OscLink implements DeskLink {
  readonly profile: Profile;
  linked = false;
  readonly wireLog = new WireLog();

  private readonly transport: Transport;
  private readonly listeners = new Set<(event: LinkEvent) => void>();
  private readonly questions = new Map<number, Question>();
  private readonly order = new PushSequencer();
  private readonly catchUps = new Set<CatchUp>();
  private readonly client = randomInt(1, 2 ** 31 - 1);
  private readonly patience: number;
  private readonly heartbeat: NodeJS.Timeout;
  private readonly clock = new AwakeClock();
  private token = 0;
  private writes = 0;
  private beats = 0;
  private boot: number | undefined;
  private lastHeard = 0;
  private lastWhy = '';
  private closed = false;
  /** When the next packet may go, in ms since 1970. */
  private nextTurn = 0;

  constructor(private readonly options: OscLinkOptions) {
    this.profile = options.profile;
    this.patience = options.patience ?? 2000;
    const events = { onReady: () => this.beat(), onPacket: (bytes: Uint8Array) => this.receive(bytes) };
    this.transport = openTransport('udp', options, events, this.wireLog);
    this.heartbeat = setInterval(() => this.beat(), options.beat ?? 200);
    this.transport.connect();
  }

  listen(listener: (event: LinkEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async readAll(): Promise<State> {
    const state: Record<string, Readonly<Record<string, Value>>> = {};
    const waiting = [...this.profile.strips];
    const worker = async (): Promise<void> => {
      for (let strip = waiting.shift(); strip; strip = waiting.shift()) {
        const settings = await this.ask(stripAddresses(this.profile, strip), stripPatterns(this.profile, strip));
        const keys = stripFamily(this.profile, strip)?.keys ?? [];
        state[strip] = Object.fromEntries(keys.map((key) => [key, settings[`${strip}/${key}`] as Value]));
      }
    };
    await Promise.all(Array.from({ length: STRIPS_AT_ONCE }, worker));
    // In desk order, whichever strip answered first.
    return Object.fromEntries(this.profile.strips.map((strip) => [strip, state[strip] ?? {}]));
  }

  read(addresses: readonly string[]): Promise<SettingsByAddress> {
    return this.ask(addresses);
  }

  async caughtUp(): Promise<void> {
    this.mustBeLinked();
    return new Promise<void>((resolve, reject) => {
      let timer: NodeJS.Timeout | undefined;
      const waiting: CatchUp = {
        beat: this.beats + 1,
        done: (fault) => {
          clearTimeout(timer);
          this.catchUps.delete(waiting);
          if (fault) reject(fault);
          else resolve();
        },
      };
      this.catchUps.add(waiting);
      // A silent desk is noticed by the heartbeat, which ends the waiting.
      const attempt = () => {
        this.ping();
        timer = setTimeout(attempt, FIRST_WAIT);
      };
      attempt();
    });
  }

  async write(settings: SettingsByAddress, shouldContinue: () => boolean = () => true): Promise<void> {
    this.mustBeLinked();
    const number = ++this.writes;
    const seen = this.order.unbroken;
    const head = () => ({ address: protocol.WRITE, args: [int(this.client), int(number), int(seen)] });
    const messages = Object.entries(settings).map(([address, value]) => ({
      address: `/${address}`,
      args: toArguments(value),
    }));
    await this.sendPaced(encodeBundles(messages, head), shouldContinue);
  }

  async close(): Promise<void> {
    if (this.closed) return;
    clearInterval(this.heartbeat);
    this.clock.stop();
    if (this.linked) this.send({ address: protocol.WATCH, args: [int(0)] });
    this.closed = true;
    this.failQuestions('The link was closed.');
    await this.transport.close();
  }

  /** Asks until every value has arrived; questions that stay open are asked again for what is still missing. */
  private async ask(addresses: readonly string[], first?: readonly Message[]): Promise<SettingsByAddress> {
    this.mustBeLinked();
    if (addresses.length === 0) return {};
    const token = ++this.token;
    const head = () => ({ address: protocol.READ, args: [int(token)] });
    return new Promise<SettingsByAddress>((resolve, reject) => {
      let timer: NodeJS.Timeout | undefined;
      const question: Question = {
        missing: new Set(addresses),
        found: {},
        strange: new Set(),
        done: (fault) => {
          clearTimeout(timer);
          this.questions.delete(token);
          if (fault) reject(fault);
          else resolve(question.found);
        },
      };
      this.questions.set(token, question);
      const attempt = (tries: number, leftBefore: number): void => {
        const left = question.missing.size;
        // Progress starts the count anew: a large answer over a bad line is not a silent desk.
        const count = left < leftBefore ? 0 : tries;
        if (count >= MOST_TRIES) {
          question.done(linkLost(unread(this.profile.name, [...question.missing], question.strange)));
          return;
        }
        const queries = count === 0 && first && left === addresses.length ? first : this.queries(question.missing);
        void this.sendPaced(encodeBundles(queries, head));
        const wait = Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** count);
        timer = setTimeout(() => attempt(count + 1, left), wait);
      };
      attempt(0, addresses.length);
    });
  }

  private queries(addresses: Iterable<string>): Message[] {
    return [...addresses].map((address) => ({ address: `/${address}`, args: [] }));
  }

  private mustBeLinked(): void {
    if (!this.linked) throw linkLost(`${this.profile.name} does not answer.`);
  }

  private beat(): void {
    this.transport.connect();
    if (this.linked && this.clock.now() - this.lastHeard > this.patience)
      this.unlink(`${this.profile.name} stopped answering.`);
    if (!this.linked) {
      this.send({ address: protocol.HELLO, args: [] });
      return;
    }
    this.ping();
    if (this.beats % 5 === 0) this.send({ address: protocol.WATCH, args: [int(protocol.WATCH_LEASE_MS)] });
    this.fetchGaps();
  }

  private ping(): void {
    this.beats++;
    this.send({ address: protocol.PING, args: [int(this.beats)] });
  }

  private settleCatchUps(): void {
    for (const waiting of [...this.catchUps])
      if (waiting.pushed !== undefined && this.order.complete(waiting.pushed)) waiting.done();
  }

  private fetchGaps(): void {
    for (const [from, to] of this.order.gaps()) this.send({ address: protocol.RESEND, args: [int(from), int(to)] });
  }

  private receive(bytes: Uint8Array): void {
    const messages = decode(bytes);
    const [head] = messages ?? [];
    if (!messages || !head) return;
    this.lastHeard = this.clock.now();
    const numbers = head.args.map((a) => Number(a.value));
    const [first = 0, second = 0] = numbers;
    if (NUMBERED.has(head.address) && !numbers.every(Number.isSafeInteger)) return;
    switch (head.address) {
      case protocol.DESK:
        return this.greeted(String(head.args[0]?.value), Number(head.args[2]?.value));
      case protocol.WATCHING:
        return this.watching(second);
      case protocol.PONG:
        if (this.linked && numbers[2] !== this.boot) return this.unlink(`${this.profile.name} was restarted.`);
        if (!this.linked || this.isFarAhead(second)) return;
        this.order.reached(second);
        for (const waiting of this.catchUps) if (first >= waiting.beat) waiting.pushed ??= second;
        this.settleCatchUps();
        return this.fetchGaps();
      case protocol.EXPIRED:
        this.order.forget(second);
        this.tell({ type: 'resync' });
        return this.settleCatchUps();
      case protocol.PUSH:
        if (!this.linked || this.isFarAhead(first)) return;
        this.pushed(messages.slice(1), first, second);
        return this.settleCatchUps();
      case protocol.VALUES:
        return this.answered(messages.slice(1), first, second);
      case protocol.REFUSED:
        for (const { args } of messages)
          this.tell({ type: 'refused', address: String(args[0]?.value), why: String(args[1]?.value) });
        return;
    }
  }

  /** Whether a push is numbered as no desk would after what was heard; then the desk is linked anew. */
  private isFarAhead(number: number): boolean {
    if (number - this.order.last <= MAX_GAP) return false;
    this.unlink(`${this.profile.name} counts its changes in a way that cannot be followed.`);
    return true;
  }

  private greeted(profile: string, boot: number): void {
    if (this.linked) return;
    if (profile !== this.profile.id) {
      const why = `The desk at ${this.options.host}:${this.options.port} is not a ${this.profile.name}.`;
      if (why !== this.lastWhy) this.tell({ type: 'unlinked', why });
      this.lastWhy = why;
      return;
    }
    this.boot = boot;
    this.send({ address: protocol.WATCH, args: [int(protocol.WATCH_LEASE_MS)] });
  }

  private watching(at: number): void {
    if (this.linked) return;
    this.order.restart(at);
    this.linked = true;
    this.lastWhy = '';
    this.tell({ type: 'linked' });
  }

  private unlink(why: string): void {
    this.linked = false;
    this.failQuestions(why);
    this.tell({ type: 'unlinked', why });
  }

  private failQuestions(why: string): void {
    for (const waiting of [...this.questions.values(), ...this.catchUps]) waiting.done(linkLost(why));
  }

  private values(messages: readonly Message[]): SettingsByAddress {
    const settings: Record<string, Value> = {};
    for (const { address, args } of messages) {
      const name = address.slice(1);
      const spec = readAddress(name) && specOf(this.profile, name);
      const answer = spec && fromArguments(spec, args);
      if (answer?.ok) settings[name] = answer.value;
    }
    return settings;
  }

  /** A push is told once, however often it arrives; whose it is, is told also where newer values are known by now. */
  private pushed(messages: readonly Message[], number: number, by: number): void {
    const isNew = this.order.arrived(number);
    const values = this.values(messages);
    if (isNew && by !== this.client && Object.keys(values).length > 0) this.tell({ type: 'hands', settings: values });
    this.movedTo(values, number);
  }

  /** Answers are told as well as pushes: a listener that keeps every value it is told is never behind. */
  private movedTo(values: SettingsByAddress, at: number): void {
    const settings = this.order.take(values, at);
    if (Object.keys(settings).length > 0) this.tell({ type: 'settings-changed', settings });
  }

  private answered(messages: readonly Message[], at: number, token: number): void {
    const question = this.questions.get(token);
    if (!question || !this.linked) return;
    const settings = this.values(messages);
    this.movedTo(settings, at);
    for (const { address } of messages) {
      const name = address.slice(1);
      if (question.missing.has(name) && !(name in settings)) question.strange.add(name);
    }
    for (const [address, value] of Object.entries(settings)) {
      question.found[address] = value;
      question.missing.delete(address);
    }
    if (question.missing.size === 0) question.done();
  }

  private tell(event: LinkEvent): void {
    for (const listener of [...this.listeners]) listener(event);
  }

  private send(message: Message): void {
    this.sendBytes(encodeMessage(message));
  }

  /** Sends no more than the desk can take in a time, and gives the sockets a breath now and then. */
  private async sendPaced(packets: readonly Uint8Array[], shouldContinue: () => boolean = () => true): Promise<void> {
    const { pace } = this.profile;
    for (const [i, packet] of packets.entries()) {
      if (pace !== undefined) {
        const turn = Math.max(performance.now(), this.nextTurn);
        this.nextTurn = turn + packet.length / (pace / 1000);
        if (turn > performance.now()) await new Promise((resolve) => setTimeout(resolve, turn - performance.now()));
      } else if (i > 0 && i % PACKETS_AT_ONCE === 0) await new Promise((resolve) => setTimeout(resolve, 1));
      if (!shouldContinue()) return;
      this.sendBytes(packet);
    }
  }

  private sendBytes(bytes: Uint8Array): void {
    // What still waits for its turn when the link is closed is not sent any more.
    if (!this.closed) this.transport.send(bytes);
  }
}

/** Heads that hold nothing but numbers. */
const NUMBERED: ReadonlySet<string> = new Set([
  protocol.WATCHING,
  protocol.PONG,
  protocol.EXPIRED,
  protocol.PUSH,
  protocol.VALUES,
]);
