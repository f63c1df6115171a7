import { sameOnWire, type WireValue } from '@old-echo/core/desk/link-map/value-mapping';
import type { Value } from '@old-echo/core/desk/setting';

import type { HeardValue } from './mapped-messages';

interface Sent {
  readonly value: Value;
  readonly wire: WireValue;
  readonly at: number;
  /** Until when the desk may still tell of it, in ms. */
  readonly until: number;
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
  /** What was sent to each and the desk has not told of since, the newest last. */
  private readonly unheard = new Map<string, readonly Sent[]>();
  /** Where each setting stood, or was sent to, until just now. */
  private readonly left = new Map<string, readonly Left[]>();
  private readonly byHand = new Map<string, Left>();
  private since = 0;

  /**
   * @param isSame whether a setting holds the same by both values
   * @param answersWithin how long an answer takes at most, in ms
   */
  constructor(
    private readonly isSame: (setting: string, a: Value | undefined, b: Value) => boolean,
    private readonly answersWithin: number,
  ) {}

  /** The desk is there anew, and may stand anywhere. What was sent last still tells how it rounds. */
  beginAnew(now: number): void {
    for (const memory of [this.known, this.heardAt, this.unheard, this.left, this.byHand]) memory.clear();
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
    return (this.byHand.get(setting)?.at ?? 0) > time;
  }

  send(setting: string, value: Value, wire: WireValue, now: number): void {
    const sent = { value, wire, at: now, until: now + ECHO_MS };
    this.sent.set(setting, sent);
    this.unheard.set(setting, [...this.echoesOf(setting, now), sent]);
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
    if (value === undefined || this.isLate(one, value, now)) return undefined;
    this.heardAt.set(setting, now);
    const [before, echo, put] = [this.known.get(setting), this.echoOf(one, now), this.byHand.get(setting)];
    const isChange = !this.isSame(setting, before, value);
    const isHand = !echo && before !== undefined && isChange;
    const wasPut = echo && put && echo.at <= put.at && now - put.at <= ECHO_MS ? put.value : undefined;
    if (isHand) {
      this.byHand.set(setting, { value, at: now });
      this.left.delete(setting);
    } else if (isChange) this.leave(setting, before, now);
    if (isChange) this.known.set(setting, value);
    return { value, isChange, isHand, wasPut };
  }

  /**
   * The desk has answered how a setting stands, asked at a time: what was sent to it before has arrived or never will, and an echo of it
   * can only be overtaken.
   */
  answered(setting: string, askedAt: number, now: number): void {
    const until = now + this.answersWithin + LATE_MS;
    const settle = (sent: Sent): Sent => (sent.at <= askedAt && sent.until > until ? { ...sent, until } : sent);
    const open = this.unheard.get(setting);
    if (open) this.unheard.set(setting, open.map(settle));
  }

  /** What lies on the desk where it was sent is what was sent, however coarse the wire is. */
  private valueOf({ setting, wire, value }: HeardValue): Value | undefined {
    const last = this.sent.get(setting);
    return last && sameOnWire(last.wire, wire) ? last.value : value;
  }

  /** Whether it says where a setting stood or went through before: a message that newer ones have overtaken. */
  private isLate({ setting, wire }: HeardValue, value: Value, now: number): boolean {
    return (
      !this.isSame(setting, this.known.get(setting), value) &&
      !this.echoesOf(setting, now).some((sent) => sameOnWire(sent.wire, wire)) &&
      this.leftLately(setting, now).some((left) => this.isSame(setting, left.value, value))
    );
  }

  /** Each thing that was sent has one echo; what was sent before it is overtaken. */
  private echoOf({ setting, wire }: HeardValue, now: number): Sent | undefined {
    const echoes = this.echoesOf(setting, now);
    const at = echoes.findIndex((sent) => sameOnWire(sent.wire, wire));
    if (at < 0) return undefined;
    this.unheard.set(setting, echoes.slice(at + 1));
    for (const { value } of echoes.slice(0, at)) this.leave(setting, value, now);
    return echoes[at];
  }

  private leave(setting: string, value: Value | undefined, now: number): void {
    if (value !== undefined) this.left.set(setting, [...this.leftLately(setting, now), { value, at: now }]);
  }

  private echoesOf(setting: string, now: number): readonly Sent[] {
    return (this.unheard.get(setting) ?? []).filter(({ until }) => now <= until);
  }

  private leftLately(setting: string, now: number): readonly Left[] {
    return (this.left.get(setting) ?? []).filter(({ at }) => now - at <= this.answersWithin + LATE_MS);
  }
}
