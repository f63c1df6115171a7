import { stringify } from 'csv-stringify/sync';

import { type LoggedMessage, type LoggedMessages, PACKETS_KEPT } from '@old-echo/core/desk/logged-message';
import type { Profile } from '@old-echo/core/desk/profile';
import { decodeWidely } from '@old-echo/desk-link/codec';
import type { DeskLink } from '@old-echo/desk-link/link';
import { settingsIn } from '@old-echo/desk-link/settings-in';
import type { WirePacket } from '@old-echo/desk-link/wire-log';

/** A desk's wire; without a profile nothing is known of what is said there. */
type Wire = Pick<DeskLink, 'wireLog'> & { readonly profile?: Profile };

/** What went over a desk's wire after a packet: the last thousand messages at most. */
export function wireMessages({ wireLog, profile }: Wire, after: number): LoggedMessages {
  const packets = wireLog?.since(after) ?? [];
  return {
    last: wireLog?.last ?? 0,
    messages: packets.flatMap((packet) => messagesOf(packet, profile)).slice(-PACKETS_KEPT),
  };
}

function messagesOf({ number, at, way, bytes }: WirePacket, profile: Profile | undefined): LoggedMessage[] {
  const of = { packet: number, at: new Date(at).toISOString(), way };
  const messages = decodeWidely(bytes);
  if (messages.length === 0) return [{ ...of, address: '', types: '', args: [bytes.length], settings: [] }];
  return messages.map((message) => ({
    ...of,
    address: message.address,
    types: message.args.map(({ type }) => type).join(''),
    // JSON has no word for what is no number.
    args: message.args.map(({ value }) =>
      typeof value !== 'number' || Number.isFinite(value) ? value : String(value),
    ),
    settings: profile ? settingsIn(profile, message) : [],
  }));
}

/** The same as a table, RFC 4180, one message in a line. */
export const wireTable = (link: DeskLink): string =>
  stringify(
    wireMessages(link, 0).messages.map(({ at, way, address, types, args, settings }) => [
      at,
      way,
      address || 'not OSC',
      types,
      args.map(String).join(' '),
      settings.map(({ setting, value }) => `${setting} ${value === null ? 'does not fit' : String(value)}`).join('; '),
    ]),
    {
      header: true,
      columns: ['time', 'way', 'address', 'types', 'arguments', 'settings'],
      record_delimiter: '\r\n',
      escape_formulas: true,
    },
  );
