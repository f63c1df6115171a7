/** What the numbers in an address stand for, by the names that the pattern gave them: `in.{n}/eq/{band}/gain` → n, band. */
export type Captures = Readonly<Record<string, number>>;

const CAPTURE = /\{([a-z]+)\}/g;
const PLACE = /\{([a-z]+)([+-]\d{1,4})?(?::([1-9]))?\}/g;
const ANY_BRACES = /[{}]/;

const escaped = (text: string): string => text.replace(/[.*+?^$()|[\]\\/-]/g, '\\$&');

/**
 * A pattern of our own addresses as something that finds the numbers in one.
 * @param pattern `in.{n}/sends/mix.{m}/level`: each name in braces stands for a whole number
 * @returns undefined where the pattern has other braces than that, or a name twice
 */
export function compileSettingPattern(pattern: string): ((address: string) => Captures | undefined) | undefined {
  const names = [...pattern.matchAll(CAPTURE)].map(([, name = '']) => name);
  if (ANY_BRACES.test(pattern.replace(CAPTURE, '')) || new Set(names).size < names.length) return undefined;
  const whole = new RegExp(
    `^${pattern
      .split(CAPTURE)
      .map((part, i) => (i % 2 ? '(\\d+)' : escaped(part)))
      .join('')}$`,
  );
  return (address) => {
    const found = whole.exec(address);
    return found ? Object.fromEntries(names.map((name, i) => [name, Number(found[i + 1])])) : undefined;
  };
}

/**
 * Why a template cannot be filled with numbers of these names; undefined where it can.
 * @param template `/lane/{n:2}/tone/{band-1}`: a number, one that is added or taken away, and how many digits it is written with
 */
export function templateFault(template: string, names: readonly string[]): string | undefined {
  const unknown = [...template.matchAll(PLACE)].find(([, name = '']) => !names.includes(name));
  if (unknown) return `${unknown[0]} is not in its setting`;
  return ANY_BRACES.test(template.replace(PLACE, '')) ? 'a place for a number is {n}, {n-1} or {n:2}' : undefined;
}

/** A template with its numbers in place. */
export const fillTemplate = (template: string, captures: Captures): string =>
  template.replace(PLACE, (_, name: string, more = '0', digits = '0') =>
    String((captures[name] ?? 0) + Number(more)).padStart(Number(digits), '0'),
  );

/** An argument with its numbers in place: what is nothing but one of them is sent as a number. */
export function fillArgument(template: string, captures: Captures): number | string {
  const filled = fillTemplate(template, captures);
  return filled !== template && /^-?\d+$/.test(filled) ? Number(filled) : filled;
}
