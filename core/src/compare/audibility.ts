import type { SettingChange } from '../desk/diff-states';
import { type Family, isControl, type Profile } from '../desk/profile';
import { isNumberSpec, isOff, type SettingSpec, type Value } from '../desk/setting';
import type { StripState } from '../desk/state';
import { laneDistance, laneWithSteps } from '../signal/automation-lane';
import type { Band } from '../signal/biquad';
import { eqBands, eqDifferenceDb, lowCut } from '../signal/eq-curve';
import { PAD_DB } from '../signal/path-gain';
import { compressorCurve, CURVE_INPUT_LEVELS_DB, gateCurve } from '../signal/static-curve';
import { thirdOctaves } from '../signal/third-octaves';

/** How much one would hear of a cell that differs. */
export interface Audibility {
  /** Estimated audibility in dB, 0 … {@link MAX_AUDIBILITY_DB}; only the order is meaningful. */
  readonly heard: number;
  readonly audible: boolean;
  /** Something differs that would be heard, if anything were heard of the strip on either side. */
  readonly silent?: boolean;
  /** The side on which more is heard, or null where neither is. */
  readonly higher: AbSide | null;
  readonly fact: DifferenceFact;
}

/** What differs in a cell, as far as one would name it. */
export type DifferenceFact =
  | { readonly is: 'mute'; readonly opens: boolean }
  /** B's EQ is so many dB over A's at the frequency where they differ most; it is on in one of them only. */
  | { readonly is: 'curve'; readonly by: number; readonly hertz: number; readonly switched?: boolean }
  /** The change to name first; nothing of it is heard where its processor is off, or bypassed, on both sides. */
  | { readonly is: 'change'; readonly change: SettingChange | undefined; readonly idle?: 'off' | 'bypassed' };

export type AbSide = 'A' | 'B';

/** Where a level counts as silent, in dB: in a full mix nobody hears what lies under it. Common practice. */
export const AUDIBILITY_FLOOR_DB = -60;
/** Cap for what opens or closes, in dB: silence to full level. */
export const MAX_AUDIBILITY_DB = -AUDIBILITY_FLOOR_DB;
/** A difference in level that few would hear, in dB. Common practice. */
const JUST_AUDIBLE_DB = 0.5;
/** Scores for a swapped processor and for one changed value, in dB; chosen, not measured. */
const SWAPPED_PROCESSOR_DB = 6;
const CHANGED_VALUE_DB = 1;

export interface CellSides {
  readonly profile: Profile;
  readonly strip: string;
  /** What the settings of such strips are, by key. */
  readonly settings: Family['settings'];
  readonly section: string;
  /** `was` is A's, `now` is B's. */
  readonly changes: readonly SettingChange[];
  readonly a: StripState;
  readonly b: StripState;
  /** Highest path gain to any output in A or B, dB; 0 for strips that are not sources. */
  readonly reach: () => number;
  /** Whether nothing is heard of the strip on either side. */
  readonly silent: () => boolean;
}

/** How much one would hear of a cell that differs, and what one would name of it. */
export function rateAudibility(cell: CellSides): Audibility {
  const found = RATERS[cell.section]?.(cell) ?? rateOther(cell);
  if (found.heard > 0 && cell.silent()) return { ...found, heard: 0, audible: false, silent: true };
  return found.heard > MAX_AUDIBILITY_DB ? { ...found, heard: MAX_AUDIBILITY_DB } : found;
}

const RATERS: Readonly<Record<string, (cell: CellSides) => Audibility>> = {
  fader: level,
  sends: level,
  mute,
  preamp,
  eq,
  gate: (cell) => dynamics(cell, 'gate/on', gateCurve),
  compressor: (cell) => dynamics(cell, 'compressor/on', compressorCurve),
  inserts,
  pan,
  automation,
  routing,
  source,
  label: rateInaudible,
  view: rateInaudible,
};

const sideOf = (difference: number): AbSide | null => (difference > 0 ? 'B' : difference < 0 ? 'A' : null);
const specOf = ({ settings }: CellSides, key: string): SettingSpec | undefined => settings[key];

/** A level in dB for comparing: what is off or under where one begins to hear stands there. */
const floorLevel = (spec: SettingSpec | undefined, value: Value | undefined): number =>
  spec === undefined || isOff(spec, value) ? AUDIBILITY_FLOOR_DB : Math.max(AUDIBILITY_FLOOR_DB, Number(value));

function level(cell: CellSides): Audibility {
  let heard = 0;
  let higher: AbSide | null = null;
  let most: SettingChange | undefined;
  for (const change of cell.changes) {
    const spec = specOf(cell, change.key);
    const by =
      spec && isNumberSpec(spec) && spec.kind !== 'percent'
        ? floorLevel(spec, change.now) - floorLevel(spec, change.was)
        : sendSwitched(cell, change);
    if (most && Math.abs(by) <= heard) continue;
    heard = Math.abs(by);
    higher = sideOf(by);
    most = change;
  }
  return { heard, audible: heard >= JUST_AUDIBLE_DB, higher, fact: named(most) };
}

/** A send that is switched, or moved before or behind the fader. */
function sendSwitched(cell: CellSides, { key, now }: SettingChange): number {
  const of = key.slice(0, key.lastIndexOf('/'));
  const sent = (side: StripState) => floorLevel(specOf(cell, `${of}/level`), side[`${of}/level`]) - AUDIBILITY_FLOOR_DB;
  // As loud as it is on the side on which it is on.
  if (key.endsWith('/on')) return now === true ? sent(cell.b) : -sent(cell.a);
  const fader = (side: StripState) => Math.abs(floorLevel(specOf(cell, 'fader/level'), side['fader/level']));
  const level = (side: StripState) => Math.min(sent(side), fader(side));
  const [a, b] = [level(cell.a), level(cell.b)];
  // Before the fader it is as loud as the fader would have taken it down.
  return key.endsWith('/tap') ? Math.max(a, b) * (now === 'pre' ? 1 : -1) : 0;
}

function mute(cell: CellSides): Audibility {
  const opens = cell.b['mute/on'] !== true;
  const heard = Math.min(MAX_AUDIBILITY_DB, Math.max(0, cell.reach() - AUDIBILITY_FLOOR_DB));
  return {
    heard,
    audible: heard >= JUST_AUDIBLE_DB,
    higher: opens ? 'B' : 'A',
    fact: { is: 'mute', opens },
  };
}

function preamp(cell: CellSides): Audibility {
  const gain = (strip: StripState) =>
    Number(strip['preamp/gain'] ?? strip['preamp/trim'] ?? 0) + (strip['preamp/pad'] === true ? PAD_DB : 0);
  const by = gain(cell.b) - gain(cell.a);
  const cut = cell.changes.some(({ key }) => key.startsWith('preamp/lowcut'))
    ? curveDistance(cell, lowCut)
    : NO_DISTANCE;
  const polarity = cell.changes.some(({ key }) => key === 'preamp/polarity') ? CHANGED_VALUE_DB : 0;
  const heard = Math.max(Math.abs(by), cut.mean, polarity);
  return {
    heard,
    audible: Math.abs(by) >= JUST_AUDIBLE_DB || cut.most >= JUST_AUDIBLE_DB || polarity > 0,
    higher: sideOf(by),
    fact: named(cell.changes[0]),
  };
}

interface CurveDistance {
  readonly mean: number;
  readonly most: number;
  /** Hz, where it is most. */
  readonly at: number;
  /** B over A there, in dB. */
  readonly by: number;
}
const NO_DISTANCE: CurveDistance = { mean: 0, most: 0, at: 0, by: 0 };

/**
 * The area between two magnitude curves, as its mean height in dB over the third octaves from 20 Hz to 20 kHz; of the bands
 * that belong to the cell alone.
 */
function curveDistance({ a, b }: CellSides, bandsOf: (strip: StripState) => Band[]): CurveDistance {
  const hertz = thirdOctaves();
  const apart = eqDifferenceDb(bandsOf(a), bandsOf(b), hertz);
  if (!apart) return NO_DISTANCE;
  let [sum, most, at, by] = [0, 0, 0, 0];
  apart.forEach((difference, i) => {
    sum += Math.abs(difference);
    if (Math.abs(difference) > most) [most, at, by] = [Math.abs(difference), hertz[i] ?? 0, difference];
  });
  return { mean: sum / hertz.length, most, at, by };
}

function eq(cell: CellSides): Audibility {
  const { mean, most, at, by } = curveDistance(cell, eqBands);
  const idle = most < 0.05 && eqBands(cell.a).length + eqBands(cell.b).length === 0;
  const switched = cell.a['eq/on'] !== cell.b['eq/on'] ? { switched: cell.b['eq/on'] === true } : {};
  return {
    heard: mean,
    audible: most >= JUST_AUDIBLE_DB,
    higher: most >= 0.05 ? sideOf(by) : null,
    fact: most < 0.05 ? named(cell.changes[0], idle ? 'off' : undefined) : { is: 'curve', by, hertz: at, ...switched },
  };
}

/** The distance between two static curves, as their mean distance in dB over inputs from −60 dB to full scale. */
function dynamics(
  cell: CellSides,
  switched: string,
  curve: (strip: StripState, levels: readonly number[]) => number[],
): Audibility {
  const on = cell.a[switched] === true || cell.b[switched] === true;
  if (!on)
    return {
      heard: 0,
      audible: false,
      higher: null,
      fact: named(cell.changes[0], 'off'),
    };
  const [before, after] = [curve(cell.a, CURVE_INPUT_LEVELS_DB), curve(cell.b, CURVE_INPUT_LEVELS_DB)];
  let [sum, signedSum, most] = [0, 0, 0];
  for (let i = 0; i < CURVE_INPUT_LEVELS_DB.length; i++) {
    const by = (after[i] ?? 0) - (before[i] ?? 0);
    sum += Math.abs(by);
    signedSum += by;
    most = Math.max(most, Math.abs(by));
  }
  const times = timeDistance(cell);
  const heard = Math.max(sum / CURVE_INPUT_LEVELS_DB.length, times);
  return {
    heard,
    audible: most >= JUST_AUDIBLE_DB || times >= CHANGED_VALUE_DB,
    higher: most >= 0.05 ? sideOf(signedSum) : null,
    fact: named(cell.changes[0]),
  };
}

/** How far times differ: an octave, twice or half as long, counts as much as one other value. */
const timeDistance = (cell: CellSides): number =>
  cell.changes.reduce((most, { key, was, now }) => {
    const octaves = specOf(cell, key)?.kind === 'time' ? Math.abs(Math.log2(Number(now) / Number(was))) : 0;
    return Math.max(most, Number.isFinite(octaves) ? octaves * CHANGED_VALUE_DB : 0);
  }, 0);

function inserts(cell: CellSides): Audibility {
  const { changes } = cell;
  const swapped = changes.some(({ key }) => /\/(kind|device|on)$/.test(key));
  const at = changes.filter(({ key }) => isActive(cell, key));
  if (at.length === 0)
    return {
      heard: 0,
      audible: false,
      higher: null,
      fact: named(changes[0], 'bypassed'),
    };
  return {
    heard: swapped ? SWAPPED_PROCESSOR_DB : CHANGED_VALUE_DB,
    audible: true,
    higher: null,
    fact: named(at[0]),
  };
}

/** Whether a setting belongs to a processor that works on either side. */
function isActive({ a, b }: CellSides, key: string): boolean {
  const slot = /^(inserts\/\d+)\/(.*)$/.exec(key);
  if (!slot?.[1] || !slot[2]) return key === 'inserts/delay' || [a, b].some((side) => side['inserts/on'] === true);
  const [, place, what] = slot;
  return [a, b].some((side) => {
    const kind = side[`${place}/kind`];
    if (side[`${place}/on`] !== true || kind === 'empty') return what === 'on' && kind !== 'empty';
    return what === 'on' || what === 'kind' || what.startsWith(`${String(kind)}/`);
  });
}

const panGainCache = new Map<number, readonly [number, number]>();

/** Left and right gains of a position, −100 … 100 %, by constant power, floored. Remembered: a pan has a few hundred steps. */
function panGains(position: Value | undefined): readonly [number, number] {
  const percent = Number(position ?? 0);
  const known = panGainCache.get(percent);
  if (known) return known;
  const angle = ((percent + 100) / 200) * (Math.PI / 2);
  const decibels = (by: number) => Math.max(-20, 20 * Math.log10(Math.max(1e-9, by)));
  const gains = [decibels(Math.cos(angle)), decibels(Math.sin(angle))] as const;
  panGainCache.set(percent, gains);
  return gains;
}

/** From this far over silence on, in dB, a source that moves to the side is noticed in full. Common sense, no measure. */
const NOTICED = 40;

/** How far the image of a source moves, as what one of the two sides loses or gains of it, by how loud it is in the mix. */
function pan(cell: CellSides): Audibility {
  const [a, b] = [panGains(cell.a['pan/position']), panGains(cell.b['pan/position'])];
  const moved = Math.max(Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1]));
  const width = Math.abs(Number(cell.b['pan/width'] ?? 100) - Number(cell.a['pan/width'] ?? 100)) / 20;
  const weight = Math.min(1, Math.max(0, (cell.reach() - AUDIBILITY_FLOOR_DB) / NOTICED));
  const heard = Math.max(moved, width) * weight;
  return { heard, audible: heard >= JUST_AUDIBLE_DB, higher: null, fact: named(cell.changes[0]) };
}

function automation(cell: CellSides): Audibility {
  let heard = 0;
  for (const { key, was, now } of cell.changes) {
    const of = key.slice('automation/'.length);
    const apart = laneDistance(
      laneWithSteps(key, was),
      laneWithSteps(key, now),
      restingValue(cell, of, cell.a),
      restingValue(cell, of, cell.b),
    );
    const counts = of === 'mute' ? MAX_AUDIBILITY_DB : of === 'pan' || of.startsWith('inserts') ? DB_PER_PERCENT : 1;
    heard = Math.max(heard, apart * counts);
  }
  return { heard, audible: heard >= JUST_AUDIBLE_DB, higher: null, fact: named(cell.changes[0]) };
}

/** What a percent of position or of an effect counts, in dB; chosen, not measured. */
const DB_PER_PERCENT = 1 / 20;

/** Where a control stands while its lane has no points. */
function restingValue(cell: CellSides, of: string, strip: StripState): number {
  if (of === 'mute') return Number(strip['mute/on'] === true);
  if (of === 'pan') return Number(strip['pan/position'] ?? 0);
  if (of.startsWith('inserts')) return 0;
  const control = of === 'fader' ? 'fader/level' : `sends/${of}/level`;
  return floorLevel(specOf(cell, control), strip[control]);
}

function routing(cell: CellSides): Audibility {
  const passes = cell.changes.filter(({ key }) => key !== 'routing/output');
  const opened = passes.filter(({ now }) => now === true).length;
  // Where some ways open and others close, neither side has more.
  const higher = passes.length === 0 ? null : opened === passes.length ? 'B' : opened === 0 ? 'A' : null;
  const group = passes.every(({ key }) => isControl(key.slice('routing/'.length)));
  const heard = group
    ? SWAPPED_PROCESSOR_DB
    : Math.min(MAX_AUDIBILITY_DB, Math.max(0, cell.reach() - AUDIBILITY_FLOOR_DB)) / 2;
  return { heard, audible: heard >= JUST_AUDIBLE_DB, higher, fact: named(cell.changes[0]) };
}

function source(cell: CellSides): Audibility {
  const socket = cell.changes.find(({ key }) => key === 'source/socket');
  const heard = socket ? MAX_AUDIBILITY_DB / 2 : 0;
  return { heard, audible: socket !== undefined, higher: null, fact: named(socket ?? cell.changes[0]) };
}

function rateInaudible(cell: CellSides): Audibility {
  return { heard: 0, audible: false, higher: null, fact: named(cell.changes[0]) };
}

function rateOther(cell: CellSides): Audibility {
  return { heard: CHANGED_VALUE_DB, audible: true, higher: null, fact: named(cell.changes[0]) };
}

const named = (change: SettingChange | undefined, idle?: 'off' | 'bypassed'): DifferenceFact => ({
  is: 'change',
  change,
  ...(idle && { idle }),
});
