/** A compiled OSC 1.0 address pattern. */
export interface Pattern {
  /** How many parts between slashes the pattern has. */
  readonly parts: readonly (string | RegExp)[];
}

/**
 * Compiles an OSC 1.0 address pattern: `?`, `*`, `[a-z]`, `[!a]` and `{one,other}`, each inside one part of the address.
 * Returns undefined where brackets or braces are left open.
 */
export function compilePattern(pattern: string): Pattern | undefined {
  const parts: (string | RegExp)[] = [];
  for (const part of pattern.slice(1).split('/')) {
    if (!/[?*[\]{}]/.test(part)) {
      parts.push(part);
      continue;
    }
    const source = partSource(part);
    if (source === undefined) return undefined;
    try {
      parts.push(new RegExp(`^${source}$`));
    } catch {
      return undefined;
    }
  }
  return { parts };
}

function partSource(part: string): string | undefined {
  let source = '';
  for (let i = 0; i < part.length; i++) {
    const c = part.charAt(i);
    if (c === '*') source += '.*';
    else if (c === '?') source += '.';
    else if (c === '[' || c === '{') {
      const end = part.indexOf(c === '[' ? ']' : '}', i);
      if (end < 0) return undefined;
      const inner = part.slice(i + 1, end);
      source +=
        c === '{'
          ? `(?:${inner.split(',').map(literal).join('|')})`
          : `[${inner.startsWith('!') ? `^${inner.slice(1)}` : inner}]`.replace(/\\/g, '\\\\');
      i = end;
    } else if (c === ']' || c === '}') return undefined;
    else source += literal(c);
  }
  return source;
}

const literal = (chars: string): string => chars.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** Whether an address (without its leading slash, taken apart at the slashes) matches. */
export const matches = (pattern: Pattern, address: readonly string[]): boolean =>
  pattern.parts.length === address.length &&
  pattern.parts.every((part, i) => (typeof part === 'string' ? part === address[i] : part.test(address[i] ?? '')));

/** Whether an OSC address holds pattern characters. */
export const isPattern = (address: string): boolean => /[?*[\]{}]/.test(address);
