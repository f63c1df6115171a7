import type { LinkMap, MappedSetting } from '@old-echo/core/desk/link-map/link-map';
import { fromWire, toWire, type WireValue } from '@old-echo/core/desk/link-map/value-mapping';
import { validateValue, type Value } from '@old-echo/core/desk/setting';

import { float, int, text, type WireArgument, type WireMessage } from './codec';

/** A value that arrived, as the wire and as the setting has it; `value` is undefined where the setting has none for it. */
export interface HeardValue {
  readonly setting: string;
  readonly wire: WireValue;
  readonly value: Value | undefined;
}

/** What a link map makes of messages, and messages of settings. Knows nothing of sockets. */
export class MappedMessages {
  /** Where values of settings stand, by the address of their message. */
  private readonly heard = new Map<string, Map<number, MappedSetting>>();
  /** What is set with one message, in the order of its arguments. */
  private readonly written = new Map<string, MappedSetting[]>();

  constructor(private readonly map: LinkMap) {
    for (const mapped of map.settings.values()) {
      for (const { address, argument } of [mapped.place, ...(mapped.question ? [mapped.question.answer] : [])]) {
        const places = this.heard.get(address) ?? new Map<number, MappedSetting>();
        this.heard.set(address, places.set(argument, mapped));
      }
      const together = this.written.get(mapped.place.address) ?? [];
      this.written.set(mapped.place.address, [...together, mapped]);
    }
    for (const together of this.written.values()) together.sort((a, b) => a.place.argument - b.place.argument);
  }

  /** The values of settings in a message. */
  read({ address, args }: WireMessage): HeardValue[] {
    return [...(this.heard.get(address) ?? [])].flatMap(([argument, { setting, spec, mapping }]) => {
      const wire = args[argument]?.value;
      if (wire === undefined) return [];
      const value = fromWire(mapping, spec, wire);
      const answer = value === undefined ? undefined : validateValue(spec, value);
      return [{ setting, wire, value: answer?.ok ? answer.value : undefined }];
    });
  }

  /** The messages that set some settings, by their addresses, each once. */
  addressesOf(settings: Iterable<string>): string[] {
    return [...new Set([...settings].flatMap((setting) => this.map.settings.get(setting)?.place.address ?? []))];
  }

  /** What one message sets, in the order of its arguments. */
  setBy(address: string): readonly MappedSetting[] {
    return this.written.get(address) ?? [];
  }

  /** The message that sets all that it sets to these; undefined where one of them is not known. */
  write(address: string, valueOf: (setting: string) => Value | undefined): WireMessage | undefined {
    const args = this.setBy(address).map((mapped) => {
      const value = valueOf(mapped.setting);
      return value === undefined ? undefined : argumentOf(mapped, value);
    });
    return args.length > 0 && args.every((one) => one !== undefined) ? { address, args } : undefined;
  }

  /** The messages that ask for some settings, each once; for those that cannot be asked there is none. */
  questionsFor(settings: Iterable<string>): WireMessage[] {
    const questions = [...settings].flatMap((setting) => this.map.settings.get(setting)?.question ?? []);
    const messages = questions.map(questionMessage);
    return [...new Map(messages.map((message) => [messageName(message), message])).values()];
  }
}

/** What is asked with, as the map has it. */
export const questionMessage = ({ address, args }: { address: string; args: readonly WireValue[] }): WireMessage => ({
  address,
  args: args.map((value) => {
    if (typeof value === 'string') return text(value);
    if (typeof value === 'boolean') return yesOrNo(value);
    return Number.isInteger(value) ? int(value) : float(value);
  }),
});

/** What tells a question from every other. */
export const messageName = ({ address, args }: WireMessage): string =>
  [address, ...args.map(({ value }) => String(value))].join(' ');

function argumentOf({ type, mapping, spec }: MappedSetting, value: Value): WireArgument | undefined {
  const wire = toWire(mapping, spec, value);
  switch (type) {
    case 'i':
      return wire === undefined ? undefined : int(Math.round(Number(wire)));
    case 'f':
      return wire === undefined ? undefined : float(Number(wire));
    case 's':
      return wire === undefined ? undefined : text(String(wire));
    case 'T/F':
      return wire === undefined ? undefined : yesOrNo(wire === true);
  }
}

const yesOrNo = (value: boolean): WireArgument => (value ? { type: 'T', value: true } : { type: 'F', value: false });
