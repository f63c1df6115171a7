import { familyOf, readAddress } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { decimalsOf, isNumberSpec, type NumberSpec, type SettingSpec, type Value } from '../desk/setting';
import { displayName, type State } from '../desk/state';

const MINUS = '\u2212';

const SECTION_NAMES: Readonly<Record<string, string>> = { eq: 'EQ' };

/** A section where there is little room: "Comp". */
export const shortSectionName = (section: string): string => SHORT_NAMES[section] ?? sectionName(section);

const SHORT_NAMES: Readonly<Record<string, string>> = {
  preamp: 'Pre',
  compressor: 'Comp',
  automation: 'Auto',
  headphones: 'Phones',
};

/** A section as a heading: "EQ". */
export const sectionName = (section: string): string => SECTION_NAMES[section] ?? capitalise(section);

/** A section's name in the middle of a sentence. */
export const sectionNameInText = (section: string): string => {
  const name = sectionName(section);
  return name === 'EQ' ? name : name.toLowerCase();
};

/** The text with its first letter large. */
export const capitalise = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A thing with its article: "A gate", "An EQ", "An echo". */
export const withArticle = (name: string): string =>
  `${/^([aeio]|EQ)/i.test(name) ? 'An' : 'A'} ${name === 'EQ' ? name : name.toLowerCase()}`;

const KEY_NAMES: Readonly<Record<string, string>> = {
  freq: 'frequency',
  kind: 'type',
  q: 'Q',
  lowcut: 'low cut',
  phantom: '48 V',
  predelay: 'pre-delay',
  makeup: 'make-up',
  tap: 'pre-post',
};

/** The word for a part of a key: `freq` is "frequency". */
export const keyWord = (part: string): string => KEY_NAMES[part] ?? part;

/**
 * A setting's name inside its section: `eq/2/gain` → "Band 2 gain", `sends/mix.3/level` → "Mix 3 level".
 * `names` gives the strips' own names where a setting points at one.
 */
export function settingName(profile: Profile, key: string, names?: State): string {
  const [section, ...parts] = key.split('/');
  if (key === 'mute/on') return 'Muted';
  if (/^inserts\/\d+\/kind$/.test(key)) return `Insert ${parts[0]}`;
  const named = parts.filter((part, i) => part !== 'inserts' || parts[i + 1] === undefined);
  const words = named.map((part) => {
    if (profile.plainNames[part] !== undefined)
      return names ? displayName(profile, names, part) : (profile.plainNames[part] ?? part);
    if (/^\d+$/.test(part)) return `${section === 'eq' ? 'band' : 'insert'} ${part}`;
    return keyWord(part);
  });
  return capitalise(words.join(' '));
}

/** Settings that go by one word where their section is not at hand. */
const FULL_NAMES: Readonly<Record<string, string>> = {
  'fader/level': 'Fader',
  'mute/on': 'Mute',
  'pan/position': 'Pan',
  'source/socket': 'Source',
  'source/link': 'Stereo link',
  'label/name': 'Name',
  'automation/fader': 'Fader automation',
  'automation/mute': 'Mute automation',
  'automation/pan': 'Pan automation',
};

/** A setting's name with its section, short enough for one line: "EQ band 2 gain", "Send to Mix 3", "Insert 1 automation". */
export function fullSettingName(profile: Profile, address: string, names?: State): string {
  const parts = readAddress(address);
  if (!parts) return address;
  const known = FULL_NAMES[parts.key];
  if (known) return known;
  const inner = settingName(profile, parts.key, names);
  const pointsAtStrip = stripFamily(profile, parts.rest.split('/')[0] ?? '') !== undefined;
  switch (parts.section) {
    case 'sends':
      return `Send to ${inner.replace(/ level$/, '')}`;
    case 'inserts':
      return inner.startsWith('Insert ') ? inner : `Insert ${lowered(inner)}`;
    case 'automation':
      return pointsAtStrip ? `Automation of the send to ${inner}` : `${inner} automation`;
    case 'routing':
      return pointsAtStrip ? `Assigned to ${inner}` : `Routing ${lowered(inner)}`;
    default:
      return `${sectionName(parts.section)} ${pointsAtStrip ? inner : lowered(inner)}`;
  }
}

/** A name in the middle of a sentence; what is written in capitals stays so: "band 2 gain", "Q". */
const lowered = (name: string): string =>
  /^[A-Z][a-z]/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name;

/** A number as engineers write it: true minus sign, −∞ for off, kHz from 1000 Hz. */
function formatNumber(spec: NumberSpec, value: number, withUnit: boolean): string {
  const unit = withUnit ? ` ${spec.unit}` : '';
  if (spec.kind === 'level' && value <= spec.min) return `${MINUS}∞`;
  if (spec.kind === 'frequency' && Math.abs(value) >= 1000)
    return `${trimZeros((value / 1000).toFixed(2))}${withUnit ? ' kHz' : ''}`;
  if (spec.kind === 'percent' && spec.min < 0) return value === 0 ? 'C' : `${value < 0 ? 'L' : 'R'} ${Math.abs(value)}`;
  if (spec.kind === 'ratio') return spec.unit === ':1' ? `${value} : 1` : `${spec.unit} ${value}`;
  const decimals = spec.unit === 'dB' ? 1 : decimalsOf(spec.step);
  const text = Math.abs(value).toFixed(decimals);
  const zero = Number(text) === 0;
  const sign = value < 0 && !zero ? MINUS : spec.kind === 'gain' && spec.min < 0 && !zero ? '+' : '';
  return `${sign}${text}${unit}`;
}

/** By how much something moves: "+2.0 dB", "−0.5 dB". */
export const showOffset = (spec: NumberSpec, by: number): string =>
  `${by < 0 ? MINUS : '+'}${Math.abs(by).toFixed(spec.unit === 'dB' ? 1 : decimalsOf(spec.step))} ${spec.unit}`;

/** A peak as it is read on a meter: "−9.4 dBFS". */
export const formatPeak = (peak: number): string => `${peak < 0 ? MINUS : ''}${Math.abs(peak).toFixed(1)} dBFS`;

const trimZeros = (text: string): string => text.replace(/\.?0+$/, '');

/** A value in trade units: "−5.0 dB", "3.2 kHz", "L 30", "on", "12 points". */
export function formatValue(spec: SettingSpec, value: Value | undefined, withUnit = true): string {
  if (value === undefined) return '–';
  if (isNumberSpec(spec)) return formatNumber(spec, Number(value), withUnit);
  if (spec.kind === 'switch') return value === true ? 'on' : 'off';
  if (spec.kind === 'curve') {
    const points = Array.isArray(value) ? value.length : 0;
    return points === 0 ? 'none' : points === 1 ? '1 point' : `${points} points`;
  }
  return String(value) === '' ? 'none' : String(value);
}

const SMALL = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten', 'eleven', 'twelve'];

/** "three", "31": small counts as words. */
export const countWord = (n: number): string => SMALL[n] ?? String(n);

const COUNTS = new Intl.NumberFormat('en-GB');
const PLURALS = new Intl.PluralRules('en-GB');

/** Whether a count takes the verb and the noun of one: "1 setting differs". */
export const isOne = (n: number): boolean => PLURALS.select(n) === 'one';

/** "9,873". */
export const formatCount = (n: number): string => COUNTS.format(n);

/** "1 setting", "12 settings", "9,873 settings". */
export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${formatCount(n)} ${isOne(n) ? one : many}`;

/** "3 strips", "1 strip and the globals", "the globals": where something is, each once. */
export function countStrips(strips: Iterable<string>): string {
  const all = new Set(strips);
  const globals = [...all].filter((strip) => familyOf(strip) === GLOBAL_FAMILY).length;
  const others = all.size - globals;
  if (globals === 0) return plural(others, 'strip');
  return others === 0 ? 'the globals' : `${plural(others, 'strip')} and the globals`;
}

/** "a", "a and b", "a, b and c". */
export const joinWithAnd = (words: readonly string[]): string =>
  words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] ?? '');
