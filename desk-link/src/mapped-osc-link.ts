import type { LinkMap } from '@old-echo/core/desk/link-map/link-map';
import type { Profile } from '@old-echo/core/desk/profile';
import { sameValue, type Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';
import type { Fault } from '@old-echo/core/fault/fault';

import { AskedAt } from './asked-at';
import { AwakeClock } from './awake-clock';
import { decodeWidely, encodeMessage, type WireMessage } from './codec';
import { HandsAndEchoes } from './hands-and-echoes';
import type { DeskLink, LinkEvent } from './link';
import { linkLost, unread } from './link-lost';
import { MappedMessages, messageName, questionMessage } from './mapped-messages';
import { openTransport } from './open-transport';
import type { DeskPlace, Transport } from './transport';
import { WireLog } from './wire-log';

interface MappedOscLinkOptions extends DeskPlace {
  readonly profile: Profile;
  readonly map: LinkMap;
  /** Time between signs of life, in ms. */
  readonly beat?: number;
  /** How long a desk may be silent before it counts as gone, in ms. */
  readonly patience?: number;
}

/** Some settings that someone waits for. */
interface Reading {
  readonly since: number;
  readonly missing: Set<string>;
  /** What was answered, and is no value of its setting. */
  readonly strange: Set<string>;
  readonly found: Record<string, Value>;
  readonly done: (fault?: Fault) => void;
}

/** An answer that takes longer than this many times what the map says is lost. */
const ANSWER_WAITS = 2;
const LONGEST_WAIT = 1000;
const MOST_TRIES = 20;
/** How often it is looked whether what a hand has moved is where the hand has put it, until it is. */
const MOST_PUT_BACK = 10;
/** A desk that tells of its moves is asked for all of them this often, in ms, where that takes no more than this share of its pace. */
const LOOK_MS = 2000;
const SHARE_OF_PACE = 0.05;
/** What was heard within this time needs not to be asked for again before it goes along in a message, in ms. */
const FRESH_MS = 50;
/** How far ahead of its turn a message may go, in ms: timers are no finer. */
const EARLY_MS = 2;

/**
 * A {@link DeskLink} to a desk with an OSC of its own, by the map in its profile. Such a desk numbers nothing: whether a move was missed
 * is known only by asking, so that to have caught up is to have asked for everything. What cannot be asked is known as it was sent last.
 */
export class MappedOscLink implements DeskLink {
  readonly profile: Profile;
  linked = false;
  readonly wireLog = new WireLog();

  private readonly map: LinkMap;
  private readonly messages: MappedMessages;
  private readonly transport: Transport;
  private readonly listeners = new Set<(event: LinkEvent) => void>();
  private readonly readings = new Set<Reading>();
  private readonly asked: AskedAt;
  private readonly questions = new Set<string>();
  /** The questions that a message may be the answer to, by its address. */
  private readonly questionsOf = new Map<string, Set<string>>();
  private readonly settings: HandsAndEchoes;
  private readonly patience: number;
  private readonly answersWithin: number;
  private readonly clock = new AwakeClock();
  private readonly timers: NodeJS.Timeout[];
  private lastHeard = 0;
  private nextTurn = 0;
  private writing: Promise<void> = Promise.resolve();
  private round: Promise<unknown> = Promise.resolve();
  private nextRound: Promise<void> | undefined;
  private seeing: Promise<void> | undefined;
  private closed = false;

  constructor(options: MappedOscLinkOptions) {
    this.profile = options.profile;
    this.map = options.map;
    this.messages = new MappedMessages(options.map);
    this.patience = options.patience ?? 2000 + options.map.wait;
    this.answersWithin = ANSWER_WAITS * options.map.wait;
    this.asked = new AskedAt(this.answersWithin, this.patience);
    this.settings = new HandsAndEchoes((setting, a, b) => this.isSame(setting, a, b), this.answersWithin);
    for (const { question } of options.map.settings.values()) {
      if (!question) continue;
      const [name, { address }] = [messageName(questionMessage(question)), question.answer];
      this.questions.add(name);
      this.questionsOf.set(address, (this.questionsOf.get(address) ?? new Set()).add(name));
    }
    const events = { onReady: () => this.beat(), onPacket: (bytes: Uint8Array) => this.receive(bytes) };
    this.transport = openTransport(this.map.transport, options, events, this.wireLog);
    const { hearing } = this.map;
    this.timers = [setInterval(() => this.beat(), options.beat ?? 500)];
    if (hearing.by === 'subscription') this.timers.push(setInterval(() => this.subscribe(), hearing.every));
    this.timers.push(setInterval(() => this.lookAround(), lookEvery(this.map)));
    this.transport.connect();
  }

  listen(listener: (event: LinkEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async readAll(): Promise<State> {
    const all = [...this.map.settings.keys()];
    const found = await this.read(all);
    // In desk order, whatever answered first.
    const inOrder = all.flatMap((setting) => (setting in found ? [[setting, found[setting] as Value]] : []));
    const none: State = Object.fromEntries(this.profile.strips.map((strip) => [strip, {}]));
    return withSettings(none, Object.fromEntries(inOrder) as SettingsByAddress);
  }

  /** What cannot be asked is given as it was sent last, and not at all where nothing was sent. */
  async read(addresses: readonly string[]): Promise<SettingsByAddress> {
    this.mustBeLinked();
    const found = await this.ask(addresses.filter((one) => this.isAsked(one)));
    for (const setting of addresses) {
      const value = this.isAsked(setting) ? undefined : this.settings.lastKnown(setting);
      if (value !== undefined) found[setting] = value;
    }
    return found;
  }

  /**
   * Everything is asked for once after the call, and what overran a hand is back where the hand has put it; who calls meanwhile waits for
   * the round after that.
   */
  caughtUp(): Promise<void> {
    this.nextRound ??= this.round
      .catch(() => undefined)
      .then(async () => {
        this.nextRound = undefined;
        this.round = this.read([...this.map.settings.keys()]);
        await this.round;
        await this.seeing;
      });
    return this.nextRound;
  }

  /**
   * A hand always wins: where it moved something while something else was on its way there, that is asked for once all has arrived, and
   * what has overrun the hand is taken back until the desk says so.
   */
  private seeToHands(): Promise<void> {
    const inTurn = async () => {
      for (let tries = 0; tries < MOST_PUT_BACK; tries++) {
        await new Promise((resolve) => setTimeout(resolve, this.settings.onItsWayFor));
        const contested = this.settings.contested();
        await this.read(contested);
        this.settings.giveUp(contested.filter((setting) => !this.isAsked(setting)));
        if (this.settings.contested().length === 0) return;
      }
      this.settings.giveUp(this.settings.contested());
    };
    this.seeing ??= inTurn().finally(() => (this.seeing = undefined));
    return this.seeing;
  }

  async write(settings: SettingsByAddress, shouldContinue: () => boolean = () => true): Promise<void> {
    this.mustBeLinked();
    // One after the other: what goes along with one must not be what another is just changing.
    const since = this.clock.now();
    const turn = this.writing.catch(() => undefined).then(() => this.writeNow(settings, since, shouldContinue));
    this.writing = turn;
    return turn;
  }

  async close(): Promise<void> {
    if (this.closed) return;
    this.closed = true;
    this.timers.forEach(clearInterval);
    this.clock.stop();
    this.failReadings('The link was closed.');
    await this.transport.close();
  }

  /** What goes along in a message is asked for first, where that was not just heard: a hand may have moved it. */
  private async writeNow(all: SettingsByAddress, since: number, shouldContinue: () => boolean): Promise<void> {
    this.mustBeLinked();
    const settings = new Map(Object.entries(all));
    const addresses = this.messages.addressesOf(settings.keys());
    const along = addresses.flatMap((address) => this.messages.setBy(address).map(({ setting }) => setting));
    const fresh = this.clock.now() - FRESH_MS;
    await this.read(along.filter((one) => !settings.has(one) && !this.settings.wasHeardSince(one, fresh)));
    const taken: Record<string, Value> = {};
    for (const address of addresses) {
      await this.turn();
      if (!shouldContinue()) break;
      const own = this.messages.setBy(address).filter(({ setting }) => settings.has(setting));
      // What a hand has moved since is its own.
      for (const { setting } of own) if (this.settings.wasMovedByHandSince(setting, since)) settings.delete(setting);
      if (own.every(({ setting }) => !settings.has(setting))) continue;
      const message = this.messages.write(address, (one) => settings.get(one) ?? this.settings.standing(one));
      if (message) this.send(message);
      for (const [i, { setting, question }] of this.messages.setBy(address).entries()) {
        const [value, wire] = [settings.get(setting), message?.args[i]?.value];
        if (value === undefined) continue;
        if (wire === undefined) {
          this.tell({ type: 'refused', address: setting, why: 'what goes along with it is not known' });
          continue;
        }
        this.settings.send(setting, value, wire, this.clock.now());
        if (!question && this.settings.take(setting, value, this.clock.now())) taken[setting] = value;
      }
    }
    this.tellOf('settings-changed', taken);
  }

  private mustBeLinked(): void {
    if (!this.linked || this.closed) throw linkLost(`${this.profile.name} does not answer.`);
  }

  /** Asks until every value has arrived; what stays open is asked for again. */
  private ask(settings: readonly string[]): Promise<Record<string, Value>> {
    if (settings.length === 0) return Promise.resolve({});
    return new Promise((resolve, reject) => {
      let timer: NodeJS.Timeout | undefined;
      const reading: Reading = {
        since: this.clock.now(),
        missing: new Set(settings),
        found: {},
        strange: new Set(),
        done: (fault) => {
          clearTimeout(timer);
          this.readings.delete(reading);
          if (fault) reject(fault);
          else resolve(reading.found);
        },
      };
      this.readings.add(reading);
      const attempt = async (tries: number, leftBefore: number): Promise<void> => {
        const left = reading.missing.size;
        const count = left < leftBefore ? 0 : tries;
        if (count >= MOST_TRIES) {
          reading.done(linkLost(unread(this.profile.name, [...reading.missing], reading.strange)));
          return;
        }
        await this.sendPaced(this.messages.questionsFor(reading.missing), () => this.readings.has(reading));
        if (!this.readings.has(reading)) return;
        timer = setTimeout(() => void attempt(count + 1, left), Math.min(LONGEST_WAIT, this.map.wait * 2 ** count));
      };
      void attempt(0, settings.length);
    });
  }

  private beat(): void {
    this.transport.connect();
    const now = this.clock.now();
    if (this.linked && now - this.lastHeard > this.patience) this.unlink(`${this.profile.name} stopped answering.`);
    this.send(questionMessage(this.map.alive));
  }

  private subscribe(): void {
    const { hearing } = this.map;
    if (this.linked && hearing.by === 'subscription') this.send(questionMessage(hearing));
  }

  private lookAround(): void {
    if (this.linked) void this.caughtUp().catch(() => undefined);
  }

  private receive(bytes: Uint8Array): void {
    for (const message of decodeWidely(bytes)) {
      const now = this.clock.now();
      this.lastHeard = now;
      if (message.address === this.map.alive.answer) this.isAlive();
      if (this.linked) this.heard(message, now);
    }
  }

  private isAlive(): void {
    if (this.linked) return;
    this.settings.beginAnew(this.clock.now());
    this.asked.clear();
    this.linked = true;
    this.subscribe();
    this.tell({ type: 'linked' });
  }

  private unlink(why: string): void {
    this.linked = false;
    this.failReadings(why);
    this.tell({ type: 'unlinked', why });
  }

  private failReadings(why: string): void {
    for (const reading of [...this.readings]) reading.done(linkLost(why));
  }

  private heard(message: WireMessage, now: number): void {
    const settings: Record<string, Value> = {};
    const changes: Record<string, Value> = {};
    const hands: Record<string, Value> = {};
    const back: Record<string, Value> = {};
    for (const one of this.messages.read(message)) {
      if (one.value === undefined)
        for (const { missing, strange } of this.readings) if (missing.has(one.setting)) strange.add(one.setting);
      const heard = this.settings.hear(one, now);
      if (!heard) continue;
      settings[one.setting] = heard.value;
      if (heard.isChange) changes[one.setting] = heard.value;
      if (heard.isHand) hands[one.setting] = heard.value;
      if (heard.wasPut !== undefined) back[one.setting] = heard.wasPut;
    }
    this.tellOf('hands', hands);
    this.tellOf('settings-changed', changes);
    if (this.settings.contested().length > 0) void this.seeToHands().catch(() => undefined);
    if (Object.keys(back).length > 0) void this.write(back).catch(() => undefined);
    this.answer(message.address, settings, now);
  }

  private isAsked(setting: string): boolean {
    return this.map.settings.get(setting)?.question !== undefined;
  }

  private isSame(setting: string, a: Value | undefined, b: Value): boolean {
    const spec = this.map.settings.get(setting)?.spec;
    return spec !== undefined && sameValue(spec, a, b);
  }

  private answer(address: string, settings: SettingsByAddress, now: number): void {
    const questions = [...(this.questionsOf.get(address) ?? [])];
    const askedAt = Math.max(
      -Infinity,
      ...questions.map((question) => this.asked.answered(question, now) ?? -Infinity),
    );
    for (const setting of Object.keys(settings)) this.settings.answered(setting, askedAt, now);
    for (const reading of [...this.readings]) {
      if (askedAt < reading.since) continue;
      for (const [setting, value] of Object.entries(settings))
        if (reading.missing.delete(setting)) reading.found[setting] = value;
      if (reading.missing.size === 0) reading.done();
    }
  }

  private tellOf(type: 'hands' | 'settings-changed', settings: SettingsByAddress): void {
    if (Object.keys(settings).length > 0) this.tell({ type, settings });
  }

  private tell(event: LinkEvent): void {
    for (const listener of [...this.listeners]) listener(event);
  }

  private async sendPaced(messages: readonly WireMessage[], shouldContinue: () => boolean): Promise<void> {
    for (const message of messages) {
      await this.turn();
      if (!shouldContinue()) return;
      this.send(message);
    }
  }

  /** Waits until one more message may go: no more are sent than the desk takes in a time. */
  private async turn(): Promise<void> {
    const turn = Math.max(performance.now(), this.nextTurn);
    this.nextTurn = turn + 1000 / this.map.pace;
    if (turn - performance.now() > EARLY_MS)
      await new Promise((resolve) => setTimeout(resolve, turn - performance.now()));
  }

  private send(message: WireMessage): void {
    if (this.closed) return;
    const name = messageName(message);
    if (this.questions.has(name)) this.asked.sent(name, this.clock.now());
    this.transport.send(encodeMessage(message));
  }
}

/** How often everything is asked for: what a desk told may have been lost, and it does not say so. */
const lookEvery = ({ hearing, settings, pace }: LinkMap): number =>
  hearing.by === 'asking' ? hearing.every : Math.max(LOOK_MS, (settings.size / (pace * SHARE_OF_PACE)) * 1000);
