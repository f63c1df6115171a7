/** A pattern longer than this matches nothing: no address of ours is half as long. */
const LONGEST_PATTERN = 128;

/** What one piece of a pattern makes of a place in a text: the places where the rest may go on. */
type Piece = (text: string, at: number) => readonly number[];

/** One part between slashes: a plain text, or pieces that are tried one after another. */
type Part = string | readonly Piece[];

/** A compiled OSC 1.0 address pattern. */
export interface Pattern {
  readonly parts: readonly Part[];
}

/**
 * Compiles an OSC 1.0 address pattern: `?`, `*`, `[a-z]`, `[!a]` and `{one,other}`, each inside one part of the address.
 * Returns undefined where brackets or braces are left open, a range goes down, or it is too long for any address.
 */
export function compilePattern(pattern: string): Pattern | undefined {
  if (pattern.length > LONGEST_PATTERN) return undefined;
  const parts: Part[] = [];
  for (const part of pattern.slice(1).split('/')) {
    const compiled = isPattern(part) ? piecesOf(part) : part;
    if (compiled === undefined) return undefined;
    parts.push(compiled);
  }
  return { parts };
}

const anyRest: Piece = (text, at) => Array.from({ length: text.length - at + 1 }, (_, i) => at + i);
const anyOne: Piece = (text, at) => (at < text.length ? [at + 1] : []);
const oneOf =
  (words: readonly string[]): Piece =>
  (text, at) =>
    words.flatMap((word) => (text.startsWith(word, at) ? [at + word.length] : []));
const inClass =
  (characters: RegExp): Piece =>
  (text, at) =>
    at < text.length && characters.test(text.charAt(at)) ? [at + 1] : [];

function piecesOf(part: string): Piece[] | undefined {
  const pieces: Piece[] = [];
  for (let i = 0; i < part.length; i++) {
    const c = part.charAt(i);
    if (c === '*') pieces.push(anyRest);
    else if (c === '?') pieces.push(anyOne);
    else if (c === '[' || c === '{') {
      const end = part.indexOf(c === '[' ? ']' : '}', i);
      if (end < 0) return undefined;
      const inner = part.slice(i + 1, end);
      const piece = c === '{' ? oneOf(inner.split(',')) : classOf(inner);
      if (!piece) return undefined;
      pieces.push(piece);
      i = end;
    } else if (c === ']' || c === '}') return undefined;
    else pieces.push(oneOf([c]));
  }
  return pieces;
}

/** `a-z` or `!a-z` between brackets. */
function classOf(inner: string): Piece | undefined {
  const not = inner.startsWith('!');
  const characters = (not ? inner.slice(1) : inner).replace(/[\\^]/g, '\\$&');
  try {
    return inClass(new RegExp(`^[${not ? '^' : ''}${characters}]$`));
  } catch {
    return undefined;
  }
}

/** Whether an address (without its leading slash, taken apart at the slashes) matches. */
export const matches = (pattern: Pattern, address: readonly string[]): boolean =>
  pattern.parts.length === address.length && pattern.parts.every((part, i) => matchesPart(part, address[i] ?? ''));

/** Follows all ways through a part at once, so that many stars take no longer than as many letters. */
function matchesPart(part: Part, text: string): boolean {
  if (typeof part === 'string') return part === text;
  let places: ReadonlySet<number> = new Set([0]);
  for (const piece of part) {
    const [first] = places;
    if (first === undefined) return false;
    places =
      piece === anyRest
        ? new Set(anyRest(text, Math.min(...places)))
        : new Set([...places].flatMap((at) => piece(text, at)));
  }
  return places.has(text.length);
}

/** Whether an OSC address holds pattern characters. */
export const isPattern = (address: string): boolean => /[?*[\]{}]/.test(address);
