import type { NamedStrip } from '../components/named-strip';

const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/\.(wav|flac)$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * The strip that a file's name means: one that is called so, else the one whose number it begins or ends with, as in
 * "07 Frame drum.wav". Undefined where it says nothing of the kind.
 */
export function matchFileToStrip(file: string, strips: readonly NamedStrip[]): string | undefined {
  const words = plain(file);
  const named = strips
    .filter(({ name }) => plain(name) !== '' && ` ${words} `.includes(` ${plain(name)} `))
    .sort((a, b) => b.name.length - a.name.length)[0];
  if (named) return named.strip;
  const number = /^0*(\d+)\b|\b0*(\d+)$/.exec(words);
  const wanted = `in.${number?.[1] ?? number?.[2] ?? ''}`;
  return strips.find(({ strip }) => strip === wanted)?.strip;
}
