import type { WireValue } from './link-map/value-mapping';
import type { Value } from './setting';

/** One message between Old Echo and a desk, as it went over the wire. */
export interface LoggedMessage {
  /** Of its packet, counted since the desk was connected; messages of one bundle share it. */
  readonly packet: number;
  /** ISO 8601, with milliseconds. */
  readonly at: string;
  readonly way: 'to the desk' | 'from the desk';
  /** Its OSC address; empty where the packet was no OSC. */
  readonly address: string;
  /** OSC type tags of its arguments: `fis`. */
  readonly types: string;
  readonly args: readonly WireValue[];
  /** What it says of settings of the desk, as far as it is known what it says. */
  readonly settings: readonly { readonly setting: string; readonly value: Value | null }[];
}

/** Messages since a packet, and the number of the last. */
export interface LoggedMessages {
  readonly last: number;
  readonly messages: readonly LoggedMessage[];
}

/** How many packets of each desk are kept to be looked at. */
export const PACKETS_KEPT = 1000;
