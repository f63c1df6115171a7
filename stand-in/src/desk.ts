import { readAddress } from '@old-echo/core/desk/address';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { sameValue, type SettingSpec, validateValue, type Value } from '@old-echo/core/desk/setting';
import {
  addressesOf,
  defaultState,
  type SettingsByAddress,
  type State,
  valueAt,
  withSettings,
} from '@old-echo/core/desk/state';
import type { Message } from '@old-echo/desk-link/codec';
import { compilePattern, isPattern, matches } from '@old-echo/desk-link/pattern';
import { fromArguments } from '@old-echo/desk-link/values';

export interface Refusal {
  readonly address: string;
  readonly why: string;
}

/** The desk itself: its settings and what it does with what it is told. Knows nothing of sockets. */
export class SimulatedDesk {
  private readonly values = new Map<string, Value>();
  private readonly specs = new Map<string, SettingSpec>();
  /** Steps that the desk really has, where they are coarser than its profile says. */
  private readonly coarse = new Map<string, number>();
  private readonly parts = new Map<string, { address: string; parts: readonly string[] }[]>();

  constructor(
    readonly profile: Profile,
    kept: SettingsByAddress = {},
  ) {
    const initial = defaultState(profile);
    for (const address of addressesOf(profile)) {
      const [spec, strip] = [specOf(profile, address), readAddress(address)?.strip];
      if (!spec || !strip) continue;
      this.specs.set(address, spec);
      const answer = kept[address] === undefined ? undefined : validateValue(spec, kept[address]);
      this.values.set(address, answer?.ok ? answer.value : (valueAt(initial, address) as Value));
      const list = this.parts.get(strip) ?? [];
      list.push({ address, parts: address.split('/') });
      this.parts.set(strip, list);
    }
  }

  /** Lets the desk round these settings to coarser steps than its profile says. */
  round(steps: Readonly<Record<string, number>>): void {
    this.coarse.clear();
    for (const [address, step] of Object.entries(steps)) this.coarse.set(address, step);
  }

  value(address: string): Value | undefined {
    return this.values.get(address);
  }

  settings(): SettingsByAddress {
    return Object.fromEntries(this.values);
  }

  state(): State {
    return withSettings({}, this.settings());
  }

  /** The addresses that an OSC address or pattern names. */
  named(oscAddress: string): string[] {
    if (!isPattern(oscAddress)) return this.values.has(oscAddress.slice(1)) ? [oscAddress.slice(1)] : [];
    const pattern = compilePattern(oscAddress);
    if (!pattern) return [];
    const [first] = pattern.parts;
    const lists = typeof first === 'string' ? [this.parts.get(first) ?? []] : [...this.parts.values()];
    return lists.flatMap((list) => list.filter((entry) => matches(pattern, entry.parts)).map((entry) => entry.address));
  }

  /** Takes a value from the wire. Returns what it now holds if that moved, nothing if not, or why it was refused. */
  take(message: Message): { moved?: string; refused?: Refusal } {
    const address = message.address.slice(1);
    const spec = this.specs.get(address);
    const answer = spec
      ? fromArguments(spec, message.args)
      : { ok: false as const, why: `${this.profile.name} does not have it` };
    if (!answer.ok) return { refused: { address, why: answer.why } };
    const step = this.coarse.get(address);
    const value = step === undefined ? answer.value : Math.round(Number(answer.value) / step) * step;
    return this.move(address, value) ? { moved: address } : {};
  }

  /** A hand on the desk: moves a control, at the desk's own resolution. Returns whether it moved. */
  move(address: string, value: unknown): boolean {
    const spec = this.specs.get(address);
    const answer = spec && validateValue(spec, value);
    if (!spec || !answer?.ok) return false;
    if (sameValue(spec, this.values.get(address), answer.value)) return false;
    this.values.set(address, answer.value);
    return true;
  }
}
