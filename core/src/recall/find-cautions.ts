import { familyOf, sectionOf } from '../desk/address';
import { laneOfProcessor } from '../desk/lane';
import { isAlike, linkedPartner } from '../desk/linked-pair';
import { specOf, stripFamily } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { asLane, isOff, sameValue } from '../desk/setting';
import type { State } from '../desk/state';
import {
  type Caution,
  type CautionFact,
  type CautionForm,
  type CautionItem,
  type CautionKind,
  cautionOf,
  type Draft,
  type Severity,
} from './caution';
import type { CautionInput } from './caution-input';
import { globals } from './global-changes';
import { lost } from './lost-content';
import { DB_TOLERANCE, findLouderPaths, type MasterRise } from './louder-paths';
import { isHeard, type Rises, risesBetween } from './path-rises';
import type { PlannedChange } from './planned-changes';
import { ringing } from './ringing';
import { silent } from './silenced-paths';

/** Everything in a restore that can hurt ears, gear or work, the heaviest first. */
export function cautions(input: CautionInput): Caution[] {
  const { profile, before, after, changes, mode, thresholds } = input;
  if (changes.length === 0 && input.stays.every(({ why }) => why !== 'processor not there')) return [];
  const heavy: Severity = mode === 'live' ? 'stop' : 'care';
  const rises = risesBetween(profile, before, after);
  const heard = audibleStrips(input, rises);
  // While a strip is muted for the restore nothing is heard of what happens to it.
  const open = (strip: string) => heard(strip) && !input.guarded.includes(strip);
  const rings = ringing(input, rises);
  const reported = causesOf(rings);
  const masters = mastersOf(input);
  const louderNow = findLouderPaths({ profile, before, after, changes, thresholds, mode, reported, masters }, rises);
  const drafts: Draft[] = [
    ...louderNow,
    ...rings,
    ...globals(input, heavy),
    ...phantom(input, heavy, open),
    ...gains(input, heavy, open, causesOf(louderNow)),
    ...otherSource(input),
    ...patches(input, heavy, heard),
    ...automation(input),
    ...lost(changes),
    ...lanesLeft(input),
    ...silent(input, rises),
    ...clicks(input, open),
    ...polarity(input, open),
    ...pairs(input),
    ...effects(input),
  ];
  const order: readonly Severity[] = ['stop', 'care', 'note'];
  const to = new Map(changes.map((change) => [change.address, change.to]));
  return drafts
    .map((draft) => cautionOf(draft, (address) => to.get(address) ?? null))
    .sort((a, b) => order.indexOf(a.weight) - order.indexOf(b.weight));
}

const causesOf = (drafts: readonly Draft[]): ReadonlySet<string> =>
  new Set(drafts.flatMap(({ items }) => items.flatMap(({ causes }) => causes)));

/** Strips that can be heard somewhere before or after the restore: sources and everything on their way. */
function audibleStrips({ profile, before, after }: CautionInput, { was, is }: Rises): (strip: string) => boolean {
  const heard = new Set<string>();
  const groups = profile.families.find((family) => family.id === 'group')?.strips ?? [];
  for (const [state, factors] of [
    [before, was],
    [after, is],
  ] as const)
    for (const [output, sources] of Object.entries(factors))
      for (const source in sources) {
        if (!isHeard(factors, output, source)) continue;
        heard.add(output);
        if (heard.has(source)) continue;
        heard.add(source);
        for (const group of groups) if (state[source]?.[`routing/${group}`] === true) heard.add(group);
      }
  return (strip) => heard.has(strip);
}

/** The changes that a test lets through, one item for each strip. */
function findChanges(
  { changes }: CautionInput,
  test: (change: PlannedChange) => boolean,
  fact: (changes: readonly PlannedChange[]) => CautionFact = () => ({ is: 'changes' }),
): CautionItem[] {
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of changes)
    if (familyOf(change.strip) !== GLOBAL_FAMILY && test(change))
      byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  return [...byStrip].map(([strip, list]) => ({ strip, fact: fact(list), causes: list.map((c) => c.address) }));
}

function draft(
  kind: CautionKind,
  weight: Severity,
  items: readonly CautionItem[],
  { form, waysOut = ['leave out'] }: { readonly form?: CautionForm; readonly waysOut?: Caution['waysOut'] } = {},
): Draft[] {
  return items.length > 0 ? [{ kind, weight, items, waysOut, ...(form && { form }) }] : [];
}

const rise = ({ from, to }: PlannedChange): number =>
  typeof from === 'number' && typeof to === 'number' ? to - from : 0;

/** Mains, matrices and DCAs that rise by themselves. */
function mastersOf({ profile, changes, thresholds }: CautionInput): MasterRise[] {
  return changes.flatMap((change): MasterRise[] => {
    const { strip, address, key, to } = change;
    if (key !== 'fader/level' || !['main', 'matrix', 'dca'].includes(familyOf(strip))) return [];
    const spec = specOf(profile, address);
    if (!spec || isOff(spec, to) || rise(change) <= thresholds.master + DB_TOLERANCE) return [];
    return [{ strip, address, rise: rise(change) }];
  });
}

const switched = ([change]: readonly PlannedChange[]): CautionFact => ({ is: 'switched', to: change?.to === true });

function phantom(input: CautionInput, heavy: Severity, open: (strip: string) => boolean): Draft[] {
  const { before, guarded } = input;
  const list = findChanges(input, ({ key }) => key === 'preamp/phantom', switched);
  const isMuted = (strip: string) => before[strip]?.['mute/on'] === true;
  if (list.some(({ strip }) => open(strip) && !isMuted(strip)))
    return draft('phantom', heavy, list, { form: 'audible', waysOut: ['leave out', 'mute first'] });
  const allMuted = list.every(({ strip }) => guarded.includes(strip) || isMuted(strip));
  return draft('phantom', 'care', list, { form: allMuted ? 'muted' : 'inaudible' });
}

/** Gain that comes from another strip fits what fed that one. */
function otherSource(input: CautionInput): Draft[] {
  if (!input.elsewhere) return [];
  const isGain = ({ key }: PlannedChange) => key === 'preamp/gain' || key === 'preamp/trim';
  return draft('source', input.mode === 'live' ? 'care' : 'note', findChanges(input, isGain));
}

/** Preamp gain that rises, where nothing louder was told of it: something else makes up for it. */
function gains(
  input: CautionInput,
  heavy: Severity,
  open: (strip: string) => boolean,
  reported: ReadonlySet<string>,
): Draft[] {
  const rises = (change: PlannedChange) =>
    !reported.has(change.address) &&
    /^preamp\/(gain|trim)$/.test(change.key) &&
    rise(change) > input.thresholds.gain + DB_TOLERANCE &&
    open(change.strip);
  return draft(
    'gain',
    heavy,
    findChanges(input, rises, ([change]) => ({ is: 'gained', by: change ? rise(change) : 0 })),
  );
}

function patches(input: CautionInput, heavy: Severity, heard: (strip: string) => boolean): Draft[] {
  const patch = ({ key }: PlannedChange) => ['source', 'routing'].includes(sectionOf(key));
  const all = findChanges(input, patch).filter(({ strip }) => heard(strip));
  const isMuted = ({ strip }: CautionItem) => input.guarded.includes(strip);
  return [
    ...draft(
      'patch',
      heavy,
      all.filter((item) => !isMuted(item)),
      { form: 'audible', waysOut: ['leave out', 'mute first'] },
    ),
    ...draft('patch', 'care', all.filter(isMuted), { form: 'muted' }),
  ];
}

/** Points of the lane that moves a processor are lost when it goes. */
function automation(input: CautionInput): Draft[] {
  const { before } = input;
  const lost = ({ strip, key }: PlannedChange): number => asLane(before[strip]?.[laneOfProcessor(key) ?? '']).length;
  const points = (changes: readonly PlannedChange[]) => changes.reduce((n, change) => n + lost(change), 0);
  return draft(
    'automation',
    'stop',
    findChanges(
      input,
      (change) => lost(change) > 0,
      (changes) => ({ is: 'lane', points: points(changes) }),
    ),
  );
}

/** Lanes that were asked for, and stay because the processor they move is not there. */
function lanesLeft(input: CautionInput): Draft[] {
  const byStrip = new Map<string, number>();
  for (const { strip, scene, why } of input.stays)
    if (why === 'processor not there' && Array.isArray(scene) && scene.length > 0)
      byStrip.set(strip, (byStrip.get(strip) ?? 0) + scene.length);
  const list = [...byStrip].map(([strip, points]): CautionItem => ({
    strip,
    fact: { is: 'lane', points },
    causes: [],
  }));
  return draft('automation', 'care', list, { form: 'stays', waysOut: [] });
}

function clicks(input: CautionInput, open: (strip: string) => boolean): Draft[] {
  const click = ({ strip, key }: PlannedChange) =>
    /^inserts\/((\d+\/)?(kind|on)|device|delay)$/.test(key) && open(strip);
  return draft('click', input.mode === 'live' ? 'care' : 'note', findChanges(input, click), {
    waysOut: ['leave out', 'mute first'],
  });
}

/** Polarity that flips and can be heard: of one half of a stereo pair what is common to both is lost, of any other what bleeds into others. */
function polarity(input: CautionInput, open: (strip: string) => boolean): Draft[] {
  const { profile, changes, after } = input;
  const flips = new Set(changes.filter((c) => c.key === 'preamp/polarity').map((c) => c.strip));
  const half = (strip: string) => linkedPartner(profile, after, strip);
  const isFlip = ({ key, strip }: PlannedChange) => key === 'preamp/polarity' && !flips.has(half(strip) ?? '');
  const halves = findChanges(input, (change) => isFlip(change) && half(change.strip) !== undefined, switched);
  const alone = findChanges(input, (c) => isFlip(c) && half(c.strip) === undefined && open(c.strip), switched);
  return [...draft('polarity', 'care', halves, { form: 'half' }), ...draft('polarity', 'care', alone)];
}

/** A half of a linked pair that changes while the other stays as it is: from then on they are not alike. */
function pairs(input: CautionInput): Draft[] {
  const { profile, changes, after } = input;
  const moved = new Set(changes.map(({ address }) => address));
  const alone = ({ strip, key, to }: PlannedChange) => {
    const other = isAlike(key) ? linkedPartner(profile, after, strip) : undefined;
    if (other === undefined || moved.has(`${other}/${key}`)) return false;
    const [spec, stays] = [stripFamily(profile, other)?.settings[key], after[other]?.[key]];
    return spec !== undefined && stays !== undefined && !sameValue(spec, to, stays);
  };
  return draft('pair', 'care', findChanges(input, alone));
}

/** Sends that get louder into an effect return whose processor is not the one the scene had there. */
function effects(input: CautionInput): Draft[] {
  const { profile, after, scene } = input;
  const kinds = (state: State, strip: string) => state[strip]?.['inserts/kind'];
  const strange = ({ key, address, to }: PlannedChange) => {
    const [, fx = '', what] = key.split('/');
    const spec = specOf(profile, address);
    const made = kinds(scene, fx);
    return (
      sectionOf(key) === 'sends' &&
      familyOf(fx) === 'fx' &&
      what === 'level' &&
      spec !== undefined &&
      !isOff(spec, to) &&
      made !== undefined &&
      made !== kinds(after, fx)
    );
  };
  const fed = ([change]: readonly PlannedChange[]): CautionFact => {
    const effect = change?.key.split('/')[1] ?? '';
    return { is: 'fed', effect, holds: String(kinds(after, effect)), held: String(kinds(scene, effect)) };
  };
  return draft('effect', 'care', findChanges(input, strange, fed));
}
