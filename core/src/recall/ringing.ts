import { familyOf } from '../desk/address';
import type { Profile } from '../desk/profile';
import type { State, StripState } from '../desk/state';
import { biquad, CURVE_RATE, magnitudeDb } from '../signal/biquad';
import { eqBands } from '../signal/eq-curve';
import { HARDLY_DIES, NARROW, RINGS_FROM } from '../signal/thresholds';
import type { CautionItem, Draft } from './caution';
import { isHeard, type Rises } from './path-rises';
import type { PlannedChange } from './planned-changes';

interface RingingInput {
  readonly profile: Profile;
  readonly before: State;
  readonly after: State;
  readonly changes: readonly PlannedChange[];
  readonly mode: 'studio' | 'live';
}

/**
 * What can begin to ring: a narrow boost, or a notch that goes, where an open microphone is heard again on the stage or in the room;
 * and repeats that hardly die away.
 */
export function ringing(input: RingingInput, rises: Rises): Draft[] {
  const { profile, before, after, changes, mode } = input;
  const weight = mode === 'live' ? 'stop' : 'care';
  const mics = (profile.families.find(({ id }) => id === 'in')?.strips ?? []).filter(
    (strip) => after[strip]?.['preamp/gain'] !== undefined && after[strip]['source/socket'] !== 'none',
  );
  const outputs = Object.keys(rises.is);
  const heard = (source: string) => outputs.some((output) => isHeard(rises.is, output, source));
  const open = mics.filter(heard);
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of changes) byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  const items: CautionItem[] = [];
  const dying: CautionItem[] = [];
  for (const [strip, own] of byStrip) {
    const [from, to] = [before[strip] ?? {}, after[strip] ?? {}];
    const carries =
      familyOf(strip) === 'in'
        ? open.includes(strip)
        : ['main', 'mix', 'matrix'].includes(familyOf(strip))
          ? open.some((mic) => isHeard(rises.is, strip, mic))
          : familyOf(strip) === 'group' && open.some((mic) => after[mic]?.[`routing/${strip}`] === true);
    const worst = carries && own.some(({ section }) => section === 'eq') ? narrowRise(from, to) : undefined;
    if (worst)
      items.push({
        strip,
        fact: { is: 'boosted', hertz: worst.hertz },
        rise: worst.rise,
        causes: own.filter(({ key }) => isOfBand(key, worst.bands)).map(({ address }) => address),
      });
    for (const change of own)
      if (
        /(^|\/)feedback$/.test(change.key) &&
        Number(change.to) >= HARDLY_DIES &&
        Number(change.to) > Number(change.from)
      )
        if (heard(strip) || open.includes(strip) || !outputs.includes(strip))
          dying.push({ strip, fact: { is: 'repeats', percent: Number(change.to) }, causes: [change.address] });
  }
  items.sort((a, b) => Number(b.rise) - Number(a.rise));
  return [items, dying].flatMap((list): Draft[] =>
    list.length > 0 ? [{ kind: 'ringing', weight, items: list, waysOut: ['leave out'] }] : [],
  );
}

interface NarrowRise {
  readonly hertz: number;
  readonly rise: number;
  /** The places of the bands in the EQ that lie there. */
  readonly bands: readonly number[];
}

/** Where a strip's EQ rises most in a narrow band, if it does. */
function narrowRise(before: StripState, after: StripState): NarrowRise | undefined {
  const apart = riseOfCurve(before, after);
  const middles = new Set([before, after].flatMap((strip) => eqBands(strip).map(({ freq }) => freq)));
  let worst: NarrowRise | undefined;
  for (const hertz of middles) {
    const rise = Math.min(18, apart(hertz));
    const sides = [-1, 1].map((side) => apart(hertz * 2 ** ((side * NARROW) / 2)));
    if (rise < RINGS_FROM || sides.some((side) => side > rise / 2) || rise <= (worst?.rise ?? 0)) continue;
    const bands = [1, 2, 3, 4, 5, 6, 7, 8].filter((n) =>
      [before, after].some((strip) => Math.abs(Math.log2(Number(strip[`eq/${n}/freq`] ?? 0) / hertz)) < NARROW / 2),
    );
    worst = { hertz, rise, bands };
  }
  return worst;
}

/** What an EQ makes of a frequency after, against before, in dB. */
function riseOfCurve(before: StripState, after: StripState): (hertz: number) => number {
  const [from, to] = [before, after].map((strip) => eqBands(strip).map((band) => biquad(band, CURVE_RATE)));
  const at = (filters: typeof from, hertz: number) =>
    (filters ?? []).reduce((sum, filter) => sum + Math.max(-18, magnitudeDb(filter, hertz, CURVE_RATE)), 0);
  return (hertz) => at(to, hertz) - at(from, hertz);
}

const isOfBand = (key: string, bands: readonly number[]): boolean =>
  key === 'eq/on' || bands.some((n) => key.startsWith(`eq/${n}/`));
