import { readAddress } from '@old-echo/core/desk/address';
import type { LinkMap } from '@old-echo/core/desk/link-map/link-map';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';

import type { OscArgument, WireMessage } from './codec';
import { MappedMessages } from './mapped-messages';
import { fromArguments } from './values';

const mapped = new WeakMap<LinkMap, MappedMessages>();

/** What a message says of settings of a desk, in its own language or in ours; `value` is null where it has none that fits. */
export function settingsIn(
  profile: Profile,
  message: WireMessage,
): { readonly setting: string; readonly value: Value | null }[] {
  const { link } = profile;
  if (link) {
    const messages = mapped.get(link) ?? new MappedMessages(link);
    mapped.set(link, messages);
    return messages.read(message).map(({ setting, value }) => ({ setting, value: value ?? null }));
  }
  const setting = message.address.slice(1);
  const spec = readAddress(setting) && specOf(profile, setting);
  if (!spec || message.args.length === 0) return [];
  const isOurs = (arg: WireMessage['args'][number]): arg is OscArgument => arg.type !== 'T' && arg.type !== 'F';
  const answer = message.args.every(isOurs) ? fromArguments(spec, message.args.filter(isOurs)) : undefined;
  return [{ setting, value: answer?.ok ? answer.value : null }];
}
