import type { CellDifference, Comparison } from '../compare/compare';
import { leadingStrips } from '../compare/leading-strips';
import type { SettingChange } from '../desk/diff-states';
import { type Profile, specOf } from '../desk/profile';
import { asLane, isNumberSpec } from '../desk/setting';
import { displayName, type State } from '../desk/state';
import { countStrips, formatValue, fullSettingName, joinWithAnd, plural } from './format-value';
import type { Phrase } from './phrase';

/**
 * What differs, in one or two sentences. `louder` is B's integrated loudness over A's in LU, where both were measured.
 */
export function describeComparison(profile: Profile, names: State, comparison: Comparison, louder?: number): Phrase[] {
  const { settings, strips } = comparison;
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
  const leading = leadingStrips(comparison);
  if (leading.strips.length === 0) return [...first, plain('. Barely any of it is audible.')];
  const who = joinWithAnd(leading.strips.map((strip) => displayName(profile, names, strip)));
  return [...first, plain(leading.isMost ? '. Most of it is on ' : '. Mostly on '), strong(who), plain('.')];
}

/** What differs in a cell, in trade units: "−8.0 to −5.0 dB", "Send to Room −∞ to −18.0 dB and 2 more settings". */
export function describeDifference(profile: Profile, names: State, cell: CellDifference): string {
  return `${differenceWords(profile, names, cell, ' in B')}${cell.silent ? '; silent in both' : ''}`;
}

/** The same without what is not heard of it. `side` names where it is so: " in B", or nothing where there is only what was and is. */
export function differenceWords(
  profile: Profile,
  names: State,
  { fact, changes }: CellDifference,
  side: string,
): string {
  switch (fact.is) {
    case 'mute':
      return `${fact.opens ? 'unmuted' : 'muted'}${side}`;
    case 'curve': {
      const switched = fact.switched === undefined ? '' : fact.switched ? 'switched on, ' : 'switched off, ';
      return `${switched}${fact.by > 0 ? '+' : '−'}${Math.abs(fact.by).toFixed(1)} dB at ${frequency(fact.hertz)}`;
    }
    case 'change': {
      const more = changes.length > 1 ? ` and ${plural(changes.length - 1, 'more setting')}` : '';
      return `${fact.change ? changeWords(profile, names, fact.change) : ''}${more}${IDLE[fact.idle ?? 'no']}`;
    }
  }
}

const IDLE = { no: '', off: ', but off in both', bypassed: ', but bypassed in both' } as const;

const frequency = (hertz: number): string =>
  hertz >= 1000 ? `${(hertz / 1000).toPrecision(2)} kHz` : `${Math.round(hertz)} Hz`;

/** The fader goes without its name. */
function changeWords(profile: Profile, names: State, { address, key, was, now }: SettingChange): string {
  const spec = specOf(profile, address);
  const name = key === 'fader/level' ? '' : `${fullSettingName(profile, address, names)} `;
  if (!spec) return name;
  if (spec.kind === 'curve')
    return `${name}${plural(asLane(was).length, 'point')} to ${plural(asLane(now).length, 'point')}`;
  return `${name}${formatValue(spec, was, !isNumberSpec(spec))} to ${formatValue(spec, now)}`;
}
