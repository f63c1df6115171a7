import { isNumberSpec, isOff, type NumberSpec, quantise, type SettingSpec, type Value } from '../desk/setting';
import { factorToDb } from '../signal/sound';

/** How a level moves over a fade: evenly in dB, or so that what comes and what goes add up to the same power. */
export const FADE_CURVES = ['even', 'equal power'] as const;
export type FadeCurve = (typeof FADE_CURVES)[number];

/** A fade from or to "off" begins or ends so many dB under its other end: what is under it nobody hears. Common practice. */
const FLOOR: Readonly<Record<FadeCurve, number>> = { even: -60, 'equal power': -40 };

/** The steepest that a curve rises or falls, in dB a second: one decibel in ten milliseconds. Our own choice. */
const STEEPEST = 100;

/** Whether a setting can be moved by small steps so that it is heard as a fade: a level, a gain or a share. */
export const glides = (spec: SettingSpec | undefined): spec is NumberSpec =>
  spec !== undefined && isNumberSpec(spec) && ['level', 'gain', 'percent'].includes(spec.kind);

/**
 * A setting on its way, at a part (0 … 1) of a fade over so many seconds. Between two levels that are heard it moves evenly in dB,
 * whatever the curve, so that what several faders make of one path moves evenly as well. What opens or closes does so along the
 * curve: evenly from or to far below, or as the sine and cosine of a quarter circle (equal power, common practice), never steeper
 * than {@link STEEPEST}.
 */
export function onTheWay(
  spec: NumberSpec,
  from: Value,
  to: Value,
  part: number,
  seconds: number,
  curve: FadeCurve,
): number {
  if (part >= 1) return Number(to);
  const [off, on] = [isOff(spec, from), isOff(spec, to)];
  if (off && on) return Number(to);
  if (!off && !on) return quantise(spec, Number(from) + (Number(to) - Number(from)) * part);
  // A way that closes is one that opens, seen from its end.
  const [level, opened] = off ? [Number(to), part] : [Number(from), 1 - part];
  const at = level + opening(opened, seconds, curve);
  return at <= spec.min ? spec.min : quantise(spec, at);
}

/** How far under its level something is that opens, in dB, when it is open by a part. */
function opening(part: number, seconds: number, curve: FadeCurve): number {
  const floor = FLOOR[curve];
  if (curve === 'even') return floor * (1 - part);
  const round = factorToDb(Math.sin((Math.PI / 2) * part));
  return Math.max(floor, Math.min(round, floor + STEEPEST * part * seconds));
}

/** The steepest that a setting moves in a fade, in its unit a second. */
export function steepness(spec: NumberSpec, from: Value, to: Value, seconds: number, curve: FadeCurve): number {
  if (isOff(spec, from) !== isOff(spec, to)) return curve === 'even' ? -FLOOR.even / seconds : STEEPEST;
  return Math.abs(Number(to) - Number(from)) / seconds;
}
