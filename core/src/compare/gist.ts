import type { Profile } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import { countStrips, joinWithAnd, plural } from '../desk/format-value';
import type { Phrase } from '../recall/describe-scope';
import type { Comparison } from './compare';

/** A share of all that one would hear from which a strip is "most of it". */
const DOMINANT_SHARE = 0.5;

/**
 * What differs, in one or two sentences. `louder` is B's integrated loudness over A's in LU, where both were measured.
 */
export function gist(profile: Profile, names: State, comparison: Comparison, louder?: number): Phrase[] {
  const { cells, settings, strips } = comparison;
  const strong = (text: string): Phrase => ({ text, tone: 'bold' });
  const plain = (text: string): Phrase => ({ text });
  if (settings === 0) return [plain('A and B are '), strong('the same'), plain(' in every setting.')];
  const apart = louder === undefined ? undefined : Number(louder.toFixed(1));
  const loudness =
    apart === undefined
      ? [plain('B differs in ')]
      : apart === 0
        ? [plain('B is '), strong('as loud as A'), plain(' and differs in ')]
        : [
            plain('B is '),
            strong(`${Math.abs(apart).toFixed(1)} LU ${apart > 0 ? 'louder' : 'quieter'}`),
            plain(' and differs in '),
          ];
  const first = [...loudness, strong(plural(settings, 'setting')), plain(' on '), strong(countStrips(strips))];
  const audible = cells.filter((cell) => cell.audible);
  if (audible.length === 0) return [...first, plain('. All of it is barely audible.')];
  const total = audible.reduce((sum, { heard }) => sum + heard, 0);
  const byStrip = new Map<string, number>();
  for (const { strip, heard } of audible) byStrip.set(strip, (byStrip.get(strip) ?? 0) + heard);
  const ranked = [...byStrip].sort((a, b) => b[1] - a[1]).map(([strip, heard]) => ({ strip, heard }));
  const leading = ranked.slice(0, (ranked[0]?.heard ?? 0) >= total * DOMINANT_SHARE ? 1 : 3);
  const words = leading.map(({ strip }) => displayName(profile, names, strip));
  return [
    ...first,
    plain(leading.length === 1 ? '. Most of it is ' : '. Mostly '),
    strong(joinWithAnd(words)),
    plain('.'),
  ];
}
