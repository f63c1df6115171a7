/** `in.7/eq/2/gain`: a strip, a section, and the rest. */
export interface Address {
  readonly strip: string;
  readonly section: string;
  /** What is left after the section: `2/gain`. */
  readonly rest: string;
  /** Section and rest together, the name of the setting inside its strip: `eq/2/gain`. */
  readonly key: string;
}

/** Takes an address apart. Returns undefined where it has fewer than three parts. */
export function readAddress(address: string): Address | undefined {
  const first = address.indexOf('/');
  const second = address.indexOf('/', first + 1);
  if (first <= 0 || second <= first + 1 || second === address.length - 1) return undefined;
  return {
    strip: address.slice(0, first),
    section: address.slice(first + 1, second),
    rest: address.slice(second + 1),
    key: address.slice(first + 1),
  };
}

/** The section a key belongs to: `eq/2/gain` → `eq`. */
export const sectionOf = (key: string): string => key.slice(0, key.indexOf('/'));

/** The family a strip belongs to: `in.7` → `in`. */
export const familyOf = (strip: string): string => strip.slice(0, strip.indexOf('.'));
