import osc from 'osc/src/osc.js';

import { isRecord } from '@old-echo/core/fault/is-record';

/** An OSC 1.0 argument: 32-bit integer, 32-bit float or string. */
export type OscArgument =
  | { readonly type: 'i'; readonly value: number }
  | { readonly type: 'f'; readonly value: number }
  | { readonly type: 's'; readonly value: string };

export interface Message {
  readonly address: string;
  readonly args: readonly OscArgument[];
}

/** What desks with a language of their own send beside that: yes and no without an argument, of OSC 1.1. */
export type WireArgument = OscArgument | { readonly type: 'T' | 'F'; readonly value: boolean };

export interface WireMessage {
  readonly address: string;
  readonly args: readonly WireArgument[];
}

export const int = (value: number): OscArgument => ({ type: 'i', value });
export const float = (value: number): OscArgument => ({ type: 'f', value });
export const text = (value: string): OscArgument => ({ type: 's', value });

/** A bundle stays under this many bytes, so that it crosses an Ethernet as one datagram. */
export const LARGEST_PACKET = 1400;

const OPTIONS = { metadata: true, unpackSingleArgs: false };
/** The OSC time tag for "now". */
const IMMEDIATELY: [number, number] = [0, 1];
const BUNDLE_HEAD = 16;

const writable = (message: WireMessage) => ({ address: message.address, args: message.args.map((a) => ({ ...a })) });

/** One message as OSC 1.0 bytes. */
export const encodeMessage = (message: WireMessage): Uint8Array => osc.writePacket(writable(message), OPTIONS);

/**
 * Messages as bundles of at most {@link LARGEST_PACKET} bytes each, every bundle opened by the message that `head` makes
 * for it. A message too large to share a bundle travels in one of its own.
 */
export function encodeBundles(messages: readonly Message[], head?: () => Message): Uint8Array[] {
  let first: Uint8Array | undefined;
  const packets: Uint8Array[] = [];
  let parts: Uint8Array[] = [];
  let size = 0;
  const start = () => {
    first = head && sized(encodeMessage(head()));
    parts = first ? [first] : [];
    size = BUNDLE_HEAD + (first?.length ?? 0);
  };
  const finish = () => packets.push(Buffer.concat([bundleHead(), ...parts]));
  if (messages.length === 0) return [];
  start();
  for (const message of messages) {
    const part = sized(encodeMessage(message));
    if (size + part.length > LARGEST_PACKET && parts.length > (first ? 1 : 0)) {
      finish();
      start();
    }
    parts.push(part);
    size += part.length;
  }
  finish();
  return packets;
}

function sized(element: Uint8Array): Uint8Array {
  const length = Buffer.alloc(4);
  length.writeInt32BE(element.length);
  return Buffer.concat([length, element]);
}

function bundleHead(): Uint8Array {
  const head = Buffer.alloc(BUNDLE_HEAD);
  head.write('#bundle\0', 'latin1');
  head.writeUInt32BE(IMMEDIATELY[0], 8);
  head.writeUInt32BE(IMMEDIATELY[1], 12);
  return head;
}

/**
 * The messages in a packet, those of nested bundles included, in order.
 * Returns undefined for bytes that are not OSC 1.0: on an open port anything can arrive.
 */
export function decode(bytes: Uint8Array): Message[] | undefined {
  try {
    return flatten(osc.readPacket(bytes, OPTIONS));
  } catch {
    return undefined;
  }
}

/**
 * The messages in a packet of a desk with a language of its own. Those that carry what no setting is made of are left out.
 * Returns nothing for bytes that are not OSC.
 */
export function decodeWidely(bytes: Uint8Array): WireMessage[] {
  try {
    return messagesIn(osc.readPacket(bytes, OPTIONS)).flatMap(({ address, args }) => {
      const read = args.map(readWidely);
      return read.every((one) => one !== undefined) ? [{ address, args: read }] : [];
    });
  } catch {
    return [];
  }
}

function readWidely(argument: unknown): WireArgument | undefined {
  if (isRecord(argument) && (argument['type'] === 'T' || argument['type'] === 'F'))
    return { type: argument['type'], value: argument['type'] === 'T' };
  return readArgument(argument);
}

const flatten = (packet: object): Message[] =>
  messagesIn(packet).map(({ address, args }) => ({
    address,
    args: args.map((argument) => {
      const read = readArgument(argument);
      if (!read) throw new TypeError('only integers, floats and strings are used here');
      return read;
    }),
  }));

function messagesIn(packet: object): { address: string; args: unknown[] }[] {
  if ('packets' in packet && Array.isArray(packet.packets))
    return packet.packets.flatMap((inner: object) => messagesIn(inner));
  if (!('address' in packet) || typeof packet.address !== 'string' || !packet.address.startsWith('/'))
    throw new TypeError('an OSC address starts with /');
  return [{ address: packet.address, args: 'args' in packet && Array.isArray(packet.args) ? packet.args : [] }];
}

function readArgument(argument: unknown): OscArgument | undefined {
  if (!isRecord(argument)) return undefined;
  const { type, value } = argument;
  if ((type === 'i' || type === 'f') && typeof value === 'number') return { type, value };
  return type === 's' && typeof value === 'string' ? { type, value } : undefined;
}
