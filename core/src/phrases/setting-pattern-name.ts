import { capitalise, keyWord } from './format-value';

/**
 * What a setting is called in a form about a model of desk: `{1-4}/gain` of the EQ is "Bands 1–4 gain", `{mix}/level` "Each mix level".
 * @param plainOne what one strip of a family is called, by the family's id
 */
export function settingPatternName(
  section: string,
  pattern: string,
  plainOne: Readonly<Record<string, string>>,
): string {
  const [one, many] = section === 'eq' ? ['band', 'bands'] : ['insert', 'inserts'];
  const words = pattern.split('/').map((part) => {
    const [, from, to, family] = /^\{(?:(\d+)-(\d+)|([a-z]+))\}$/.exec(part) ?? [];
    if (family) return `each ${(plainOne[family] ?? family).toLowerCase()}`;
    if (from && to) return `${many} ${from}–${to}`;
    return /^\d+$/.test(part) ? `${one} ${part}` : keyWord(part);
  });
  return capitalise(words.join(' '));
}
