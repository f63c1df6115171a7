import type { SettingSpec } from '../setting';
import type { ValueMapping, WireValue } from './value-mapping';

/** OSC 1.0 type tags, and T or F of OSC 1.1, by which a desk says on or off without an argument. */
export type WireType = 'i' | 'f' | 's' | 'T/F';

/** One argument of one message. */
export interface WirePlace {
  readonly address: string;
  /** Counted from 0. */
  readonly argument: number;
}

/** A question: what is sent, and where its answer stands. */
export interface WireQuestion {
  readonly address: string;
  readonly args: readonly WireValue[];
  readonly answer: WirePlace;
}

/** How one setting is spoken of. */
export interface MappedSetting {
  /** Our own address. */
  readonly setting: string;
  readonly spec: SettingSpec;
  readonly type: WireType;
  readonly mapping: ValueMapping;
  /** Where it is set. */
  readonly place: WirePlace;
  /** How it is asked for; undefined where the desk cannot be asked. */
  readonly question: WireQuestion | undefined;
}

/** How one hears what moves on the desk. */
export type Hearing =
  /** It tells everyone who has spoken to it. */
  | { readonly by: 'itself' }
  /** It tells those who say so again every so many ms. */
  | {
      readonly by: 'subscription';
      readonly address: string;
      readonly args: readonly WireValue[];
      readonly every: number;
    }
  /** It never tells: everything is asked for every so many ms. */
  | { readonly by: 'asking'; readonly every: number };

/** How a desk with a language of its own is spoken to. Made from a profile's `link` by `readLinkMap`; never changed afterwards. */
export interface LinkMap {
  /** OSC in datagrams, or over a connection in the packets of SLIP (RFC 1055), as OSC 1.1 has it. */
  readonly transport: 'udp' | 'tcp';
  /** A message it answers at any time, which moves nothing. */
  readonly alive: { readonly address: string; readonly args: readonly WireValue[]; readonly answer: string };
  /** The most messages it takes in a second. */
  readonly pace: number;
  /** How long its answers may take, in ms. */
  readonly wait: number;
  readonly hearing: Hearing;
  readonly settings: ReadonlyMap<string, MappedSetting>;
}

/** The settings that a desk cannot be asked for: what was sent to them is never known to have arrived. */
export const cannotBeAsked = (map: LinkMap | undefined): string[] =>
  [...(map?.settings.values() ?? [])].flatMap(({ setting, question }) => (question ? [] : [setting]));
