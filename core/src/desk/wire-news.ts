import type { LoggedMessage } from './logged-message';
import type { Value } from './setting';

/** What each setting was last told to be, by either side. */
export type Told = ReadonlyMap<string, Value | null>;

/** The conversation about the link itself; docs/desk-link.md. */
const ABOUT_THE_LINK = /^\/link\//;

/**
 * The messages that tell something: what is set, what has another value than was told before, and what nobody knows the meaning of.
 * Questions, signs of life and answers that say what is known are left out.
 */
export function wireNews(messages: readonly LoggedMessage[], before: Told): { news: LoggedMessage[]; told: Told } {
  const told = new Map(before);
  const news = messages.filter(({ way, address, args, settings }) => {
    const isOther = settings.map(({ setting, value }) => {
      const differs = JSON.stringify(told.get(setting)) !== JSON.stringify(value);
      told.set(setting, value);
      return differs;
    });
    if (settings.length > 0) return way === 'to the desk' || isOther.includes(true);
    return way === 'from the desk' && args.length > 0 && !ABOUT_THE_LINK.test(address);
  });
  return { news, told };
}
