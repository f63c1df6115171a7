import { familyOf, sectionOf } from '../desk/address';
import { isControl, type Profile, stripFamily } from '../desk/profile';
import { isOff } from '../desk/setting';
import type { State } from '../desk/state';
import { sectionsLifted } from '../signal/processing-gain';
import { dbToFactor, factorToDb } from '../signal/sound';
import { AUDIBLE_PATH_GAIN_DB, FAR, type Thresholds } from '../signal/thresholds';
import { type CautionItem, type CautionKind, type Draft, type Point, reachOf, type Severity } from './caution';
import { canFade } from './fade-steps';
import { isHeard, loudest, type Rises, risesBetween, wholeRise } from './path-rises';
import type { PlannedChange } from './planned-changes';

/** Settings that decide what passes a path; processing decides too, where it adds. */
const PATH_SETTINGS = /^(mute\/|fader\/level$|preamp\/(gain|trim|pad)$|source\/socket$|routing\/|sends\/)/;
const PROCESSING = /^(preamp\/lowcut\/|gate\/|eq\/|compressor\/|inserts\/)/;
const LANES = /^automation\//;

/** What adding decibels up as factors may be out by, in dB. */
export const DB_TOLERANCE = 1e-6;

/** Nothing is louder by less than this, in dB: matrices are compared with what feeds them. */
const MATRIX_TOLERANCE_DB = 0.05;

interface LouderPathsInput {
  readonly profile: Profile;
  readonly before: State;
  readonly after: State;
  readonly changes: readonly PlannedChange[];
  readonly thresholds: Thresholds;
  readonly mode: 'studio' | 'live';
  /** Changes that another caution reports; paths that rise only because of them are not repeated. */
  readonly reported: ReadonlySet<string>;
  /** Mains, matrices and DCAs that rise by themselves. */
  readonly masters: readonly MasterRise[];
}

/** A fader that many sources go through, and by how many dB it rises. */
export interface MasterRise {
  readonly strip: string;
  readonly address: string;
  readonly rise: number;
}

/** One source on one output that gets louder, and what makes it so. */
interface LouderPath {
  readonly source: string;
  readonly output: string;
  readonly rise: number;
  readonly causes: readonly PlannedChange[];
}

/**
 * What gets louder, one caution for each way in which it does: paths that open or rise, outputs that rise as a whole although no
 * path rises by much, what opens louder than it closed, what only a lane lifts.
 * @param plain the paths as they are at rest
 */
export function findLouderPaths(input: LouderPathsInput, plain: Rises): Draft[] {
  const { profile, before, after, changes } = input;
  const ups = upwards(input);
  if (ups.length === 0) return [];
  const live: Severity = input.mode === 'live' ? 'stop' : 'care';
  const paths = pathsOf(input, ups, plain, () => true);
  const known = new Set(paths.map(({ output, source }) => `${output} ${source}`));
  const isNew = (output: string, source: string) => !known.has(`${output} ${source}`);
  const opened = [before, after].some((state) => isClosedSomewhere(profile, state, ups))
    ? risesBetween(profile, before, after, { opened: true })
    : plain;
  const behind = pathsOf(
    input,
    ups,
    opened,
    (output, source) =>
      isNew(output, source) && !isHeard(plain.is, output, source) && isHeard(opened.was, output, source),
  );
  const far = input.mode === 'studio' && paths.some(({ output, source }) => isFar(input, opened, output, source));
  const lanes = changes.some(({ key }) => LANES.test(key))
    ? pathsOf(input, ups, risesBetween(profile, before, after, { lanes: true }), isNew)
    : [];
  const open = draft(input, 'louder', far ? 'stop' : live, paths, ups, input.masters, behind);
  return [
    ...open,
    ...wholeOutputs(input, ups, plain, paths, live),
    // Beside what is heard at once it is one line more of the same.
    ...draft(input, 'behind', live, open.length > 0 ? [] : behind, ups),
    ...draft(input, 'lane', 'stop', lanes, ups),
  ];
}

/** Whether something that rises, or that others go through, is muted, so that the paths behind it have to be looked at. */
function isClosedSomewhere(profile: Profile, state: State, ups: readonly PlannedChange[]): boolean {
  const rising = new Set(ups.map(({ strip }) => strip));
  return profile.strips.some(
    (strip) => state[strip]?.['mute/on'] === true && (familyOf(strip) !== 'in' || rising.has(strip)),
  );
}

/** The changes that by themselves open a way or make it louder. */
function upwards({ before, after, changes }: LouderPathsInput): PlannedChange[] {
  const lifted = new Map<string, ReadonlySet<string>>();
  const lifts = (strip: string): ReadonlySet<string> => {
    const found = lifted.get(strip) ?? sectionsLifted(before[strip] ?? {}, after[strip] ?? {});
    lifted.set(strip, found);
    return found;
  };
  return changes.filter((change) => {
    if (PATH_SETTINGS.test(change.key)) return opensOrRaises(change);
    if (PROCESSING.test(change.key)) return lifts(change.strip).has(sectionOf(change.key));
    return LANES.test(change.key) && Array.isArray(change.to) && change.to.length > 0;
  });
}

/** Every path that opens or rises by more than its threshold, and is not explained by what was told already. */
function pathsOf(
  { profile, after, thresholds, reported, masters }: LouderPathsInput,
  ups: readonly PlannedChange[],
  rises: Rises,
  counts: (output: string, source: string) => boolean,
): LouderPath[] {
  const known = new Set([...reported, ...masters.map(({ address }) => address)]);
  const own = new Map<string, PlannedChange[]>();
  for (const change of ups) own.set(change.strip, [...(own.get(change.strip) ?? []), change]);
  const shared = ups.filter(({ strip }) => familyOf(strip) !== 'in');
  return Object.keys(rises.is).flatMap((output) => {
    const family = stripFamily(profile, output)?.id;
    const least = family === 'mix' ? thresholds.monitor : thresholds.path;
    return Object.keys(rises.is[output] ?? {}).flatMap((source): LouderPath[] => {
      const rise = rises.of(output, source);
      if (rise <= least + DB_TOLERANCE || !counts(output, source)) return [];
      if (family === 'matrix' && rise <= upstreamRiseDb(rises, source) + MATRIX_TOLERANCE_DB) return [];
      const feeding = familyOf(source) === 'fx' ? ups.filter(({ key }) => key.startsWith(`sends/${source}/`)) : [];
      const others = new Set([...shared.filter(({ strip }) => strip !== source), ...feeding]);
      const causes = [...(own.get(source) ?? []), ...others].filter((change) =>
        affectsPath(profile, after, change, output, source),
      );
      if (causes.length > 0 && causes.every(({ address }) => known.has(address))) return [];
      return [{ source, output, rise, causes }];
    });
  });
}

/** The most that a source rises on any main or mix: a matrix that only follows those says nothing new. */
function upstreamRiseDb(rises: Rises, source: string): number {
  const feeders = Object.keys(rises.is).filter((output) => !output.startsWith('matrix.'));
  return Math.max(...feeders.map((output) => rises.of(output, source)));
}

/**
 * Whether a path rises by several thresholds, or opens far above what is heard, and not only because a mute opens on what was
 * set before.
 */
function isFar({ thresholds }: LouderPathsInput, opened: Rises, output: string, source: string): boolean {
  const least = familyOf(output) === 'mix' ? thresholds.monitor : thresholds.path;
  const rise = opened.of(output, source);
  return (
    (rise === Infinity ? factorToDb(loudest(opened.is, output, source)) - AUDIBLE_PATH_GAIN_DB : rise) > FAR * least
  );
}

interface Risen extends CautionItem {
  readonly rise: number;
  readonly outputs: readonly string[];
}

/** Paths as one caution: a line for each strip that is the cause, with the outputs it is heard on. */
function draft(
  input: LouderPathsInput,
  kind: CautionKind,
  weight: Severity,
  paths: readonly LouderPath[],
  ups: readonly PlannedChange[],
  masters: readonly MasterRise[] = [],
  behind: readonly LouderPath[] = [],
): Draft[] {
  const { profile, thresholds } = input;
  const items = itemsOf(paths);
  const add = (more: readonly Risen[]) =>
    items.push(...more.filter(({ strip }) => !items.some((item) => item.strip === strip)));
  add(masters.map(({ strip, address, rise }) => ({ ...riseItem(strip, rise), outputs: [strip], causes: [address] })));
  items.sort((a, b) => b.rise - a.rise);
  const [worst] = items;
  if (!worst) return [];
  // What rises behind a mute stands at the end: nothing of it is heard yet.
  add(itemsOf(behind).map((item) => ({ ...item, fact: { is: 'rises', isBehind: true } })));
  const least = (output: string) => (familyOf(output) === 'mix' ? thresholds.monitor : thresholds.path);
  const points = (of: CautionKind, list: readonly LouderPath[]): Point[] =>
    list.map(({ source, output, rise }) => ({
      about: `${of}|${source}|${output}`,
      reach: reachOf(rise, least(output)),
    }));
  return [
    {
      kind,
      weight,
      ...(isBounded(worst, ups) && { form: 'bounded' as const }),
      items,
      points: [
        ...points(kind, paths),
        ...masters.map(({ strip, rise }) => ({ about: `${kind}|${strip}`, reach: reachOf(rise, thresholds.master) })),
        ...points('behind', behind),
      ],
      waysOut: fades(profile, items) ? ['leave out', 'fade'] : ['leave out'],
    },
  ];
}

/** A line for each strip that is the cause of some paths, with the worst of them and the outputs they lead to. */
function itemsOf(paths: readonly LouderPath[]): Risen[] {
  const byStrip = new Map<string, LouderPath[]>();
  for (const path of paths) {
    const strip = culprit(path);
    byStrip.set(strip, [...(byStrip.get(strip) ?? []), path]);
  }
  return [...byStrip].map(([strip, own]) => ({
    ...riseItem(strip, Math.max(...own.map(({ rise }) => rise))),
    outputs: [...new Set(own.map(({ output }) => output))],
    causes: [...new Set(own.flatMap(({ causes }) => causes.map(({ address }) => address)))],
  }));
}

const riseItem = (strip: string, rise: number) => ({ strip, fact: { is: 'rises' as const }, rise });

/** Whose strip makes a path louder: the source's own, or else one that all of its causes are on. */
function culprit({ source, causes }: LouderPath): string {
  const [first] = causes;
  return !first || causes.some(({ strip }) => strip === source) ? source : first.strip;
}

/** Whether processing is among the causes, so that the amount is the most it can come to. */
const isBounded = ({ causes }: CautionItem, ups: readonly PlannedChange[]): boolean =>
  ups.some(({ address, key }) => PROCESSING.test(key) && causes.includes(address));

/** Whether everything that makes it so can fade. */
const fades = (profile: Profile, items: readonly CautionItem[]): boolean =>
  items.every(({ causes }) => causes.every((address) => canFade(profile, address)));

/** Outputs that rise as a whole, of what is not told by itself. */
function wholeOutputs(
  { profile, before, after, thresholds, reported, masters }: LouderPathsInput,
  ups: readonly PlannedChange[],
  rises: Rises,
  paths: readonly LouderPath[],
  weight: Severity,
): Draft[] {
  const socket = (source: string) =>
    dbToFactor(Number(before[source]?.['preamp/gain'] ?? before[source]?.['preamp/trim'] ?? 0));
  const known = new Set([
    ...reported,
    ...masters.map(({ address }) => address),
    ...paths.flatMap(({ causes }) => causes.map(({ address }) => address)),
  ]);
  const unknown = ups.filter(({ address }) => !known.has(address));
  const items = Object.keys(rises.is).flatMap((output): (CautionItem & { rise: number; parts: string[] })[] => {
    if (familyOf(output) === 'matrix' || masters.some(({ strip }) => strip === output)) return [];
    const own = new Set(paths.filter((path) => path.output === output).map(({ source }) => source));
    const rise = wholeRise(rises, output, own, socket);
    if (rise <= thresholds.master + DB_TOLERANCE) return [];
    const risen = Object.keys(rises.is[output] ?? {}).filter(
      (source) => !own.has(source) && rises.of(output, source) > MATRIX_TOLERANCE_DB,
    );
    const causes = unknown.filter((change) =>
      risen.some((source) => affectsPath(profile, after, change, output, source)),
    );
    if (causes.length === 0) return [];
    const parts = risen.map((source) => `louder|${source}|${output}`);
    return [{ ...riseItem(output, rise), causes: causes.map(({ address }) => address), parts }];
  });
  items.sort((a, b) => b.rise - a.rise);
  if (items.length === 0) return [];
  return [
    {
      kind: 'whole',
      weight,
      items: items.map(({ parts: _, ...item }) => item),
      parts: Object.fromEntries(items.map(({ strip, parts }) => [`whole|${strip}`, parts])),
      points: items.map(({ strip, rise }) => ({ about: `whole|${strip}`, reach: reachOf(rise, thresholds.master) })),
      waysOut: fades(profile, items) ? ['leave out', 'fade'] : ['leave out'],
    },
  ];
}

/** Whether a change is on the way from a source to an output. */
function affectsPath(profile: Profile, state: State, change: PlannedChange, output: string, source: string): boolean {
  const { strip, key, section } = change;
  const matrix = familyOf(output) === 'matrix';
  const to = section === 'automation' ? key.slice('automation/'.length) : (key.split('/')[1] ?? '');
  const isSend = section === 'sends' || (section === 'automation' && stripFamily(profile, to) !== undefined);
  if (strip === source) {
    if (isSend) return to === output || familyOf(to) === 'fx' || (matrix && familyOf(to) === 'mix');
    if (section === 'routing') return isControl(to) || familyOf(output) !== 'mix';
    if (section === 'fader') return state[source]?.[`sends/${output}/tap`] !== 'pre';
    return true;
  }
  if (isSend && to === source) return true;
  if (isSend && to !== output) return false;
  if (strip === output) return true;
  switch (familyOf(strip)) {
    case 'dca':
    case 'mutegroup':
      return [source, output].some((end) => state[end]?.[`routing/${strip}`] === true);
    case 'group':
      return state[source]?.[`routing/${strip}`] === true;
    case 'fx':
      return sendsTo(profile, state, source, strip);
    default:
      return matrix && stripFamily(profile, strip)?.id !== 'in' && familyOf(strip) !== 'matrix';
  }
}

/** Whether a strip has a send to another that is not off. */
function sendsTo(profile: Profile, state: State, strip: string, to: string): boolean {
  const key = `sends/${to}/level`;
  const spec = stripFamily(profile, strip)?.settings[key];
  return spec !== undefined && !isOff(spec, state[strip]?.[key]);
}

/** Whether a change by itself opens a way or makes it louder. */
function opensOrRaises({ key, from, to }: PlannedChange): boolean {
  if (typeof from === 'number' && typeof to === 'number') return to > from;
  if (key === 'mute/on' || key === 'preamp/pad') return to === false;
  if (key === 'source/socket') return from === 'none';
  // A DCA or mute group that a strip leaves or joins can do either.
  return isControl(key.split('/')[1] ?? '') || key.endsWith('/tap') || to === true;
}
