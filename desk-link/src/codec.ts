import osc from 'osc/src/osc.js';

/** An OSC 1.0 argument: 32-bit integer, 32-bit float or string. */
export type OscArgument =
  | { readonly type: 'i'; readonly value: number }
  | { readonly type: 'f'; readonly value: number }
  | { readonly type: 's'; readonly value: string };

export interface Message {
  readonly address: string;
  readonly args: readonly OscArgument[];
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

const writable = (message: Message) => ({ address: message.address, args: message.args.map((a) => ({ ...a })) });

/** One message as OSC 1.0 bytes. */
export const encodeMessage = (message: Message): Uint8Array => osc.writePacket(writable(message), OPTIONS);

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

function flatten(packet: object): Message[] {
  if ('packets' in packet && Array.isArray(packet.packets))
    return packet.packets.flatMap((inner: object) => flatten(inner));
  if (!('address' in packet) || typeof packet.address !== 'string' || !packet.address.startsWith('/'))
    throw new TypeError('an OSC address starts with /');
  const args = 'args' in packet && Array.isArray(packet.args) ? (packet.args as unknown[]) : [];
  return [{ address: packet.address, args: args.map(readArgument) }];
}

function readArgument(argument: unknown): OscArgument {
  if (argument && typeof argument === 'object' && 'type' in argument && 'value' in argument) {
    const { type, value } = argument;
    if ((type === 'i' || type === 'f') && typeof value === 'number') return { type, value };
    if (type === 's' && typeof value === 'string') return { type, value };
  }
  throw new TypeError('only integers, floats and strings are used here');
}
