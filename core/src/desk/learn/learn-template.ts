import type { Numbers } from './lessons';

/** Some text with the numbers that it was heard for. */
export interface TemplateExample {
  readonly numbers: Numbers;
  readonly text: string;
}

interface Part {
  readonly name: string;
  readonly offset: number;
}

/** Numbers on the wire are counted from so far below or above ours. */
const MOST_OFFSET = 128;

/**
 * How numbers stand in addresses: `/row/02/loud` for 2 and `/row/16/loud` for 16 is `/row/{n:2}/loud`. Of what fits, a number that follows
 * one of ours is preferred to one that is always the same as long as there is only one example, and the nearest to ours to others.
 * @returns undefined where they do not follow from the numbers
 */
export function learnTemplate(examples: readonly TemplateExample[]): string | undefined {
  const [first] = examples;
  if (!first) return undefined;
  const all = examples.map(({ text }) => text.split(/(\d+)/));
  const isAlike = all.every(
    (tokens) => tokens.length === all[0]?.length && tokens.every((token, i) => i % 2 === 1 || token === all[0]?.[i]),
  );
  if (!isAlike) return undefined;
  const used = new Set<string>();
  const parts = (all[0] ?? []).map((token, i) => {
    if (i % 2 === 0) return token;
    const digits = all.map((tokens) => tokens[i] ?? '');
    const isSame = digits.every((one) => one === token);
    if (isSame && examples.length > 1) return token;
    const part = followed(examples, digits, used);
    if (!part) return isSame ? token : undefined;
    used.add(part.name);
    const offset = part.offset === 0 ? '' : part.offset > 0 ? `+${part.offset}` : String(part.offset);
    return `{${part.name}${offset}${padding(digits)}}`;
  });
  if (parts.some((part) => part === undefined)) return undefined;
  // A number of ours that is nowhere to be seen would leave two settings in one place.
  const varies = Object.keys(first.numbers).filter((name) =>
    examples.some(({ numbers }) => numbers[name] !== first.numbers[name]),
  );
  return varies.every((name) => used.has(name)) ? parts.join('') : undefined;
}

function followed(
  examples: readonly TemplateExample[],
  digits: readonly string[],
  used: ReadonlySet<string>,
): Part | undefined {
  const names = Object.keys(examples[0]?.numbers ?? {}).filter((name) => !used.has(name));
  const fitting = names.flatMap((name): Part[] => {
    const offsets = new Set(examples.map(({ numbers }, i) => Number(digits[i]) - (numbers[name] ?? 0)));
    const [offset = 0] = offsets;
    return offsets.size === 1 && Math.abs(offset) <= MOST_OFFSET ? [{ name, offset }] : [];
  });
  const isFirst = examples.length === 1;
  return fitting
    .filter(({ offset }) => !isFirst || Math.abs(offset) <= 1)
    .sort((a, b) => Math.abs(a.offset) - Math.abs(b.offset))[0];
}

/** `:2` where numbers are written with two digits at least. */
function padding(digits: readonly string[]): string {
  const padded = digits.find((one) => one.length > 1 && one.startsWith('0'));
  return padded === undefined ? '' : `:${padded.length}`;
}
