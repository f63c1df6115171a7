import { sameOnWire, type WireValue } from '@old-echo/core/desk/link-map/value-mapping';
import type { Value } from '@old-echo/core/desk/setting';

import type { HeardValue } from './mapped-messages';

interface Sent {
  readonly value: Value;
  readonly wire: WireValue;
  readonly at: number;
  /** Until when the desk may still tell of it, in ms. */
  readonly until: number;
  /** Whether the desk has told of it already, or of what was sent after it. */
  readonly past: boolean;
}

/** Where a hand has put a setting while something sent was on its way, which may move it since. */
interface Contest {
  readonly value: Value;
  readonly at: number;
  readonly sent: readonly Sent[];
}

interface Left {
  readonly value: Value;
  readonly at: number;
}

/** What a message says of one setting. */
export interface Heard {
  readonly value: Value;
  readonly isChange: boolean;
  readonly isHand: boolean;
  /** Where a hand has put it, where what was on its way then has moved it since. */
  readonly wasPut: Value | undefined;
}

/** How much later than an answer usually is one may be that others have overtaken, in ms. */
const LATE_MS = 50;
/** What a desk tells within this time after it was sent the same is an echo and no hand, in ms, unless it has told of it before. */
const ECHO_MS = 2000;

/**
 * Tells hands on a desk from the echoes of what was sent to it and from messages that newer ones have overtaken, where the desk itself
 * numbers nothing. All times are of one clock, in ms.
 */
export class HandsAndEchoes {
  private readonly known = new Map<string, Value>();
  private readonly heardAt = new Map<string, number>();
  private readonly sent = new Map<string, Sent>();
  /** What was sent to each and may still be on its way, there or back, the newest last. */
  private readonly onItsWay = new Map<string, readonly Sent[]>();
  /** Where each setting stood, or was sent to, until just now. */
  private readonly left = new Map<string, readonly Left[]>();
  /** When a hand moved each, last. */
  private readonly byHand = new Map<string, number>();
  private readonly contests = new Map<string, Contest>();
  private since = 0;
  /** How long a message may be on its way, in ms, for all that is known. */
  readonly onItsWayFor: number;

  /**
   * @param isSame whether a setting holds the same by both values
   * @param answersWithin how long an answer takes at most, in ms
   */
  constructor(
    private readonly isSame: (setting: string, a: Value | undefined, b: Value) => boolean,
    answersWithin: number,
  ) {
    this.onItsWayFor = answersWithin + LATE_MS;
  }

  /** The desk is there anew, and may stand anywhere. What was sent last still tells how it rounds. */
  beginAnew(now: number): void {
    for (const memory of [this.known, this.heardAt, this.onItsWay, this.left, this.byHand, this.contests])
      memory.clear();
    this.since = now;
  }

  /** Where a setting stood when it was last told of, or last sent where the desk cannot be asked. */
  lastKnown(setting: string): Value | undefined {
    return this.known.get(setting);
  }

  /** Where a setting stands as far as is known: as it was heard, or as it was sent since. */
  standing(setting: string): Value | undefined {
    const last = this.sent.get(setting);
    return last && last.at > (this.heardAt.get(setting) ?? this.since) ? last.value : this.known.get(setting);
  }

  wasHeardSince(setting: string, time: number): boolean {
    return (this.heardAt.get(setting) ?? 0) >= time;
  }

  wasMovedByHandSince(setting: string, time: number): boolean {
    return (this.byHand.get(setting) ?? 0) > time;
  }

  /** What hands have moved while something sent was on its way: where that has left it has to be asked. */
  contested(): string[] {
    return [...this.contests.keys()];
  }

  /** Whatever was on its way when hands moved these stays where it has arrived. */
  giveUp(settings: readonly string[]): void {
    for (const setting of settings) this.contests.delete(setting);
  }

  send(setting: string, value: Value, wire: WireValue, now: number): void {
    // Whoever sends something else now has heard of the hand.
    if (!this.isSame(setting, this.contests.get(setting)?.value, value)) this.contests.delete(setting);
    const sent = { value, wire, at: now, until: now + ECHO_MS, past: false };
    this.sent.set(setting, sent);
    this.onItsWay.set(setting, [...this.echoesOf(setting, now), sent]);
  }

  /** Takes what was sent as what is, where the desk cannot be asked. Whether it is a change. */
  take(setting: string, value: Value, now: number): boolean {
    const before = this.known.get(setting);
    if (this.isSame(setting, before, value)) return false;
    this.leave(setting, before, now);
    this.known.set(setting, value);
    return true;
  }

  /** What one value in a message means; undefined where it means nothing, or what was so before. */
  hear(one: HeardValue, now: number): Heard | undefined {
    const { setting } = one;
    const value = this.valueOf(one);
    if (value === undefined) return undefined;
    const [before, echo, contest] = [this.known.get(setting), this.echoOf(one, now), this.contests.get(setting)];
    const isChange = !this.isSame(setting, before, value);
    const overran =
      contest &&
      now - contest.at <= ECHO_MS &&
      !this.isSame(setting, contest.value, value) &&
      contest.sent.some((sent) => sameOnWire(sent.wire, one.wire));
    // Newer messages have overtaken it: it says where the setting stood or went through before.
    const isLate = echo
      ? echo.past
      : this.leftLately(setting, now).some((left) => this.isSame(setting, left.value, value));
    if (isChange && isLate && !overran) return undefined;
    this.heardAt.set(setting, now);
    const isHand = !echo && !overran && before !== undefined && isChange;
    if (isHand) this.moveByHand(setting, value, now);
    else if (isChange) this.leave(setting, before, now);
    const wasPut = overran ? contest.value : undefined;
    if (isChange) this.known.set(setting, value);
    return { value, isChange, isHand, wasPut };
  }

  /**
   * The desk has answered how a setting stands, asked at a time: what was sent to it before has arrived or never will, and an echo of it
   * can only be overtaken.
   */
  answered(setting: string, askedAt: number, now: number): void {
    const until = now + this.onItsWayFor;
    const settle = (sent: Sent): Sent => (sent.at <= askedAt && sent.until > until ? { ...sent, until } : sent);
    const contest = this.contests.get(setting);
    if (
      contest &&
      askedAt > contest.at + this.onItsWayFor &&
      this.isSame(setting, this.known.get(setting), contest.value)
    )
      this.contests.delete(setting);
    const open = this.onItsWay.get(setting);
    if (open) this.onItsWay.set(setting, open.map(settle));
  }

  /** What lies on the desk where it was sent is what was sent, however coarse the wire is. */
  private valueOf({ setting, wire, value }: HeardValue): Value | undefined {
    const last = this.sent.get(setting);
    return last && sameOnWire(last.wire, wire) ? last.value : value;
  }

  private moveByHand(setting: string, value: Value, now: number): void {
    const sent = this.echoesOf(setting, now);
    if (sent.length > 0) this.contests.set(setting, { value, at: now, sent });
    else this.contests.delete(setting);
    this.byHand.set(setting, now);
    this.left.delete(setting);
  }

  /** What was sent and is told of. It, and what was sent before it, may still be told of for as long as an answer takes. */
  private echoOf({ setting, wire }: HeardValue, now: number): Sent | undefined {
    const sent = this.echoesOf(setting, now);
    const same = sent.filter((one) => sameOnWire(one.wire, wire));
    const echo = same.find(({ past }) => !past) ?? same[0];
    if (!echo) return undefined;
    const [at, until] = [sent.indexOf(echo), now + this.onItsWayFor];
    this.onItsWay.set(
      setting,
      sent.map((one, i) => (i > at ? one : { ...one, past: true, until: Math.min(one.until, until) })),
    );
    return echo;
  }

  private leave(setting: string, value: Value | undefined, now: number): void {
    if (value !== undefined) this.left.set(setting, [...this.leftLately(setting, now), { value, at: now }]);
  }

  private echoesOf(setting: string, now: number): readonly Sent[] {
    return (this.onItsWay.get(setting) ?? []).filter(({ until }) => now <= until);
  }

  private leftLately(setting: string, now: number): readonly Left[] {
    return (this.left.get(setting) ?? []).filter(({ at }) => now - at <= this.onItsWayFor);
  }
}
