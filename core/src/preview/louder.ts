import { familyOf, readAddress } from '../desk/address';
import { stripFamily, type Profile } from '../desk/profile';
import { isNumberSpec, isOff } from '../desk/setting';
import { stripName, type State } from '../desk/state';
import { fullSettingName, showValue } from '../desk/wording';
import type { Caution, CautionItem } from './caution';
import type { PathGains } from './path-gain';
import type { PlannedChange } from './preview';
import { HEARD_FROM, type Thresholds } from './thresholds';

/** Settings that decide what passes a path. */
const ON_THE_WAY = /^(mute\/|fader\/level$|preamp\/(gain|trim|pad)$|source\/socket$|routing\/|sends\/)/;

/** What adding decibels up as factors may be out by, in dB. */
export const ROUNDING = 1e-6;

/** Nothing is louder by less than this, in dB: matrices are compared with what feeds them. */
const NEARLY = 0.05;

interface Louder {
  readonly profile: Profile;
  readonly after: State;
  readonly changes: readonly PlannedChange[];
  readonly thresholds: Thresholds;
  /** Changes that are cautioned against by themselves: what only follows from them is not told again. */
  readonly told: ReadonlySet<string>;
  /** The gains before and after. */
  readonly was: PathGains;
  readonly is: PathGains;
}

/** One caution for each output on which something opens or gets louder than its threshold, without id and weight. */
export function louder(plan: Louder): Omit<Caution, 'id' | 'weight'>[] {
  const { profile, after, changes, thresholds, was, is } = plan;
  const ups = changes.filter((change) => ON_THE_WAY.test(change.key) && goesUp(change));
  if (ups.length === 0) return [];
  // Of a source only its own changes count, and those of strips that many sources go through.
  const own = new Map<string, PlannedChange[]>();
  for (const change of ups) own.set(change.strip, [...(own.get(change.strip) ?? []), change]);
  const shared = ups.filter(({ strip }) => familyOf(strip) !== 'in');
  const name = (strip: string) => stripName(profile, after, strip);
  return Object.keys(is).flatMap((output) => {
    const family = stripFamily(profile, output)?.id;
    const least = family === 'mix' ? thresholds.monitor : thresholds.path;
    const items = Object.keys(is[output] ?? {}).flatMap((source): CautionItem[] => {
      const rise = riseOf(was, is, output, source);
      if (rise <= least + ROUNDING) return [];
      if (family === 'matrix' && rise <= feedersRise(was, is, source) + NEARLY) return [];
      return [{ strip: source, what: rise === Infinity ? 'opens' : `+${rise.toFixed(1)} dB`, rise, causes: [] }];
    });
    if (items.length === 0) return [];
    const sorted = items.sort((a, b) => Number(b.rise) - Number(a.rise) || gain(is, output, b) - gain(is, output, a));
    const causes = sorted.map((item) => ({
      ...item,
      causes: [...(own.get(item.strip) ?? []), ...shared.filter(({ strip }) => strip !== item.strip)]
        .filter((change) => isOnTheWay(profile, after, change, output, item.strip))
        .map(({ address }) => address),
    }));
    const caused = causes.filter((item) => !isTold(item, plan.told));
    const [worst] = caused;
    if (!worst) return [];
    const others = caused.length > 1 ? ` and ${caused.length - 1} more` : '';
    const opening = caused.filter((item) => item.rise === Infinity).length;
    const rising = caused.length - opening;
    const alsoLouder = rising > 0 ? `; ${rising} more ${rising === 1 ? 'gets' : 'get'} louder` : '';
    const title =
      worst.rise === Infinity
        ? `${
            opening > 2
              ? `${opening} strips`
              : caused
                  .slice(0, opening)
                  .map(({ strip }) => name(strip))
                  .join(' and ')
          } ${opening === 1 ? 'opens' : 'open'} in ${name(output)}${alsoLouder}`
        : `${name(worst.strip)}${others} ${caused.length > 1 ? 'get up to' : 'gets'} ${Number(worst.rise).toFixed(1)} dB louder in ${name(output)}`;
    return [
      {
        kind: 'louder',
        output,
        title,
        detail: detailOf(profile, after, changes, worst),
        items: caused,
        waysOut: ['leave out', 'fade'],
      },
    ];
  });
}

/** Whether all that makes a path louder is cautioned against already. */
const isTold = ({ causes }: CautionItem, told: ReadonlySet<string>): boolean =>
  causes.length > 0 && causes.every((address) => told.has(address));

const gain = (gains: PathGains, output: string, item: CautionItem): number => gains[output]?.[item.strip] ?? -Infinity;

/** By how many dB a path gets louder; Infinity where it opens, 0 where it does not or nobody hears it. */
function riseOf(was: PathGains, is: PathGains, output: string, source: string): number {
  const [from, to] = [was[output]?.[source] ?? -Infinity, is[output]?.[source] ?? -Infinity];
  return to <= HEARD_FROM ? 0 : to - from;
}

/** The most that a source rises on any main or mix: a matrix that only follows those says nothing new. */
function feedersRise(was: PathGains, is: PathGains, source: string): number {
  const feeders = Object.keys(is).filter((output) => !output.startsWith('matrix.'));
  return Math.max(...feeders.map((output) => riseOf(was, is, output, source)));
}

/** Whether a change is on the way from a source to an output. */
function isOnTheWay(profile: Profile, state: State, change: PlannedChange, output: string, source: string): boolean {
  const { strip, key, section } = change;
  const matrix = familyOf(output) === 'matrix';
  const [, to = ''] = key.split('/');
  if (strip === source) {
    if (section === 'sends') return to === output || familyOf(to) === 'fx' || (matrix && familyOf(to) === 'mix');
    if (section === 'routing') return familyOf(to) === 'dca' || familyOf(output) !== 'mix';
    if (section === 'fader') return state[source]?.[`sends/${output}/tap`] !== 'pre';
    return true;
  }
  if (section === 'sends' && to !== output) return false;
  if (strip === output) return true;
  switch (familyOf(strip)) {
    case 'dca':
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
function goesUp({ key, from, to }: PlannedChange): boolean {
  if (typeof from === 'number' && typeof to === 'number') return to > from;
  if (key === 'mute/on' || key === 'preamp/pad') return to === false;
  if (key === 'source/socket') return from === 'none';
  // A DCA that a strip leaves or joins can do either.
  return key.startsWith('routing/dca') || key.endsWith('/tap') || to === true;
}

/** "Brass 1: gain 22.0 to 28.0 dB, fader −∞ to −2.1 dB". */
function detailOf(profile: Profile, names: State, changes: readonly PlannedChange[], item: CautionItem): string {
  const parts = item.causes.flatMap((address) => {
    const change = changes.find((c) => c.address === address);
    const spec = change && stripFamily(profile, change.strip)?.settings[change.key];
    if (!change || !spec) return [];
    const parts = readAddress(address);
    const who = parts && parts.strip !== item.strip ? `${stripName(profile, names, parts.strip)} ` : '';
    const what = fullSettingName(profile, address, names);
    if (spec.kind === 'switch' && change.key === 'mute/on') return [`${who}${who ? 'unmutes' : 'Unmutes'}`];
    const from =
      isNumberSpec(spec) && !isOff(spec, change.from)
        ? showValue(spec, change.from, false)
        : showValue(spec, change.from);
    return [
      `${who}${who ? what.charAt(0).toLowerCase() + what.slice(1) : what} ${from} to ${showValue(spec, change.to)}`,
    ];
  });
  return parts.slice(0, 3).join(', ') + (parts.length > 3 ? ` and ${parts.length - 3} more` : '');
}
