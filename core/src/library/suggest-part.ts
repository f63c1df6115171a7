/**
 * What a strip carries, as its name says it: without the side of a pair, the number of the strip, and words for how it was
 * picked up. "Accordion L" and "Accordion R" stay two: `left` and `right` are told apart.
 */
export function suggestPart(name: string): string {
  const words = name
    .toLowerCase()
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .split(' ')
    .filter((word) => word !== '' && !PICKUP_WORDS.has(word))
    .map((word) => SIDES[word] ?? SYNONYMS[word] ?? word);
  return words.join(' ');
}

/** How a signal was picked up does not make it another part. */
const PICKUP_WORDS: ReadonlySet<string> = new Set(['mic', 'microphone', 'track', 'channel', 'ch']);
const SIDES: Readonly<Record<string, string>> = { l: 'left', r: 'right', lt: 'left', rt: 'right' };
/** Words of the trade that mean the same. Common practice. */
const SYNONYMS: Readonly<Record<string, string>> = {
  vox: 'voice',
  vocal: 'voice',
  vocals: 'voice',
  voc: 'voice',
  gtr: 'guitar',
  gt: 'guitar',
  acc: 'accordion',
  perc: 'percussion',
  sd: 'snare',
  bd: 'kick',
  keys: 'keyboard',
  fx: 'effect',
  verb: 'reverb',
};

/** A strip that looks for another of the same part. */
export interface LabelledStrip {
  readonly strip: string;
  readonly name: string;
  /** Null where nobody said; then its name suggests one. */
  readonly part: string | null;
}
