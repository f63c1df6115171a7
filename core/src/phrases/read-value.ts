import { isNumberSpec, type NumberSpec, type SettingSpec, type Validated, validateValue } from '../desk/setting';
import { formatValue } from './format-value';

/** What a unit that is typed stands for, in the unit of a setting. */
const FACTORS: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  dB: { db: 1 },
  Hz: { hz: 1, khz: 1000, k: 1000 },
  ms: { ms: 1, s: 1000, us: 0.001, µs: 0.001 },
  s: { s: 1, ms: 0.001 },
  '%': { '%': 1 },
  ':1': { ':1': 1 },
  Q: { q: 1 },
};

/** The range of a number as it is shown: "−90.0 dB to +10.0 dB"; a level that goes to −∞ may be typed as "off". */
export const describeRange = (spec: NumberSpec): string =>
  `${formatValue(spec, spec.min)} to ${formatValue(spec, spec.max)}`;

/** A number and what is written behind it: "-6", "+3", "2k4" (2.4 kHz), "1,2 ms", "4 : 1". */
function readNumber(spec: NumberSpec, text: string): number | undefined {
  const k = /^(\d+)k(\d+)(hz)?$/.exec(text);
  if (k && spec.unit === 'Hz') return Number(`${k[1]}.${k[2]}`) * 1000;
  const number = /^([+-]?(?:\d+\.?\d*|\.\d+))([^\d]*1?)$/.exec(text);
  if (!number) return undefined;
  const unit = number[2] ?? '';
  const factor = unit === '' ? 1 : FACTORS[spec.unit]?.[unit];
  return factor === undefined ? undefined : Number(number[1]) * factor;
}

/** "L 30", "R100", "c": a pan, whose left is negative. */
function readPan(text: string): number | undefined {
  if (text === 'c') return 0;
  const side = /^([lr])(\d+\.?\d*)%?$/.exec(text);
  return side ? Number(side[2]) * (side[1] === 'l' ? -1 : 1) : undefined;
}

/**
 * What someone typed for a setting: a number with or without its unit as engineers write it, or a text. Nothing is guessed: another
 * unit, and what lies outside of the range, is refused.
 * @returns the value at the desk's own resolution, or a sentence that says why not
 */
export function readValue(spec: SettingSpec, typed: string): Validated {
  const refuse = (why: string): Validated => ({ ok: false, why });
  if (!isNumberSpec(spec)) {
    const taken = validateValue(spec, typed.trim());
    return taken.ok ? taken : refuse(`This ${taken.why}.`);
  }
  const text = typed.toLowerCase().replaceAll(/[−–]/g, '-').replaceAll(',', '.').replaceAll(/\s/g, '');
  if (text === '') return refuse(`Type a value from ${describeRange(spec)}.`);
  const isPan = spec.kind === 'percent' && spec.min < 0;
  if (spec.kind === 'level' && ['off', '-inf', '-∞', 'inf'].includes(text)) return { ok: true, value: spec.min };
  const number =
    (isPan ? readPan(text) : undefined) ?? readNumber(spec, spec.unit === 'Q' ? text.replace(/^q/, '') : text);
  if (number === undefined) return refuse(`“${typed.trim()}” is no value in ${spec.unit}.`);
  const taken = validateValue(spec, number);
  return taken.ok ? taken : refuse(`From ${describeRange(spec)}.`);
}
