import { familyOf, sectionOf } from '../desk/address';
import { laneOfProcessor } from '../desk/lane';
import { isAlike, linkedPartner } from '../desk/linked-pair';
import { GLOBAL_FAMILY, specOf, stripFamily } from '../desk/profile';
import { isOff, sameValue, type Curve } from '../desk/setting';
import { displayName, type State } from '../desk/state';
import { joinWithAnd, plural } from '../desk/format-value';
import { cautionOf, type Caution, type CautionItem, type CautionKind, type Draft, type Severity } from './caution';
import type { CautionInput } from './caution-input';
import { globals } from './global-changes';
import { lost } from './lost-content';
import { findLouderPaths, DB_TOLERANCE, type MasterRise } from './louder-paths';
import type { PlannedChange } from './planned-changes';
import { ringing } from './ringing';
import { isHeard, risesBetween, type Rises } from './path-rises';
import { silent } from './silenced-paths';
import { describeChanges } from './describe-changes';

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
    ...lost(profile, before, changes),
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
  what: (changes: readonly PlannedChange[]) => string,
): CautionItem[] {
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of changes)
    if (familyOf(change.strip) !== GLOBAL_FAMILY && test(change))
      byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  return [...byStrip].map(([strip, list]) => ({ strip, what: what(list), causes: list.map((c) => c.address) }));
}

function draft(
  { profile, after }: CautionInput,
  kind: CautionKind,
  weight: Severity,
  list: readonly CautionItem[],
  title: (who: string, one: boolean) => string,
  detail: string,
  waysOut: Caution['waysOut'] = ['leave out'],
): Draft[] {
  const [first] = list;
  if (!first) return [];
  const who = list.length === 1 ? displayName(profile, after, first.strip) : plural(list.length, 'strip');
  return [{ kind, weight, title: title(who, list.length === 1), detail, items: list, waysOut }];
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

function phantom(input: CautionInput, heavy: Severity, open: (strip: string) => boolean): Draft[] {
  const { before } = input;
  const list = findChanges(
    input,
    ({ key }) => key === 'preamp/phantom',
    ([change]) => (change?.to === true ? 'turns on' : 'turns off'),
  );
  const exposed = list.filter(({ strip }) => open(strip) && before[strip]?.['mute/on'] === false);
  const all = list.every((item) => item.what === 'turns on')
    ? 'turns on'
    : list.every((item) => item.what === 'turns off')
      ? 'turns off'
      : 'changes';
  return draft(
    input,
    'phantom',
    exposed.length > 0 ? heavy : 'care',
    list,
    (who) => `48 V ${all} for ${who}`,
    exposed.length > 0
      ? list.length === 1
        ? 'It can thump: it is open meanwhile.'
        : 'It can thump: not all of them are muted meanwhile.'
      : list.every(({ strip }) => input.guarded.includes(strip) || before[strip]?.['mute/on'] === true)
        ? 'Muted meanwhile, and until it has settled.'
        : 'None of them can be heard at the moment. It can thump where one is opened before it has settled.',
    exposed.length > 0 ? ['leave out', 'mute first'] : ['leave out'],
  );
}

/** Gain that comes from another strip fits what fed that one. */
function otherSource(input: CautionInput): Draft[] {
  if (!input.elsewhere) return [];
  const isGain = ({ key }: PlannedChange) => key === 'preamp/gain' || key === 'preamp/trim';
  return draft(
    input,
    'source',
    input.mode === 'live' ? 'care' : 'note',
    findChanges(input, isGain, (list) => describeChanges(input.profile, input.after, list)),
    (who) => `Check the gain of ${who}`,
    'It was set for another source. Listen to the strip, or look at its meter, before you open it.',
  );
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
  const list = findChanges(input, rises, (changes) => `+${rise(changes[0] as PlannedChange).toFixed(1)} dB`);
  return draft(
    input,
    'gain',
    heavy,
    list,
    (who, one) => `Preamp gain of ${who} rises${one ? ` by ${list[0]?.what.slice(1)}` : ''}`,
    list.length === 1
      ? 'It can be heard: it gets louder everywhere at once, and can ring or clip.'
      : 'They can be heard: they get louder everywhere at once, and can ring or clip.',
  );
}

function patches(input: CautionInput, heavy: Severity, heard: (strip: string) => boolean): Draft[] {
  const patch = ({ key }: PlannedChange) => ['source', 'routing'].includes(sectionOf(key));
  const all = findChanges(input, patch, (changes) => describeChanges(input.profile, input.after, changes));
  const muted = ({ strip }: CautionItem) => input.guarded.includes(strip);
  const [quiet, open] = [
    all.filter((item) => heard(item.strip) && muted(item)),
    all.filter((item) => heard(item.strip) && !muted(item)),
  ];
  return [
    ...draft(
      input,
      'patch',
      heavy,
      open,
      (who, one) => `The patch of ${who} changes while ${one ? 'it' : 'they'} can be heard`,
      open[0]?.what ?? '',
      ['leave out', 'mute first'],
    ),
    ...draft(
      input,
      'patch',
      'care',
      quiet,
      (who) => `The patch of ${who} changes`,
      'Muted meanwhile, and opened again at the end.',
    ),
  ];
}

/** Points of the lane that moves a processor are lost when it goes. */
function automation(input: CautionInput): Draft[] {
  const { before } = input;
  const lost = ({ strip, key }: PlannedChange): number => {
    const lane = before[strip]?.[laneOfProcessor(key) ?? ''];
    return Array.isArray(lane) ? (lane as Curve).length : 0;
  };
  const list = findChanges(
    input,
    (change) => lost(change) > 0,
    (changes) =>
      plural(
        changes.reduce((n, change) => n + lost(change), 0),
        'point',
      ),
  );
  return draft(
    input,
    'automation',
    'stop',
    list,
    (who) => `Automation of a processor on ${who} would be lost`,
    `${list.map((item) => item.what).join(', ')}: the processor that they move goes.`,
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
    what: plural(points, 'point'),
    causes: [],
  }));
  return draft(
    input,
    'automation',
    'care',
    list,
    (who) => `Automation of a processor on ${who} does not come`,
    `${list.map((item) => item.what).join(', ')}: the processor that they move is not there.`,
    [],
  );
}

function clicks(input: CautionInput, open: (strip: string) => boolean): Draft[] {
  const click = ({ strip, key }: PlannedChange) =>
    /^inserts\/((\d+\/)?(kind|on)|device|delay)$/.test(key) && open(strip);
  const list = findChanges(input, click, (changes) => describeChanges(input.profile, input.after, changes));
  return draft(
    input,
    'click',
    input.mode === 'live' ? 'care' : 'note',
    list,
    (who) => `The inserts or the delay of ${who} change`,
    `A click is likely. ${list[0]?.what ?? ''}`,
    ['leave out', 'mute first'],
  );
}

/** Polarity that flips and can be heard: of one half of a stereo pair what is common to both is lost, of any other what bleeds into others. */
function polarity(input: CautionInput, open: (strip: string) => boolean): Draft[] {
  const { profile, changes, after } = input;
  const flips = new Set(changes.filter((c) => c.key === 'preamp/polarity').map((c) => c.strip));
  const half = (strip: string) => linkedPartner(profile, after, strip);
  const what = ([change]: readonly PlannedChange[]) => (change?.to === true ? 'flipped' : 'straight');
  const isFlip = ({ key, strip }: PlannedChange) => key === 'preamp/polarity' && !flips.has(half(strip) ?? '');
  const halves = findChanges(input, (change) => isFlip(change) && half(change.strip) !== undefined, what);
  const alone = findChanges(input, (c) => isFlip(c) && half(c.strip) === undefined && open(c.strip), what);
  return [
    ...draft(
      input,
      'polarity',
      'care',
      halves,
      (who) => `Polarity of ${who} flips, but not that of its other half`,
      'What both halves have in common gets thin.',
    ),
    ...draft(
      input,
      'polarity',
      'care',
      alone,
      (who) => `Polarity of ${who} flips`,
      'It can be heard: what other microphones hear of it gets thin, or full again.',
    ),
  ];
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
  const list = findChanges(input, alone, (own) => describeChanges(input.profile, input.after, own));
  const halves = list.map(({ strip }) => displayName(profile, after, linkedPartner(profile, after, strip) ?? strip));
  return draft(
    input,
    'pair',
    'care',
    list,
    (who, one) => (one ? `${who} changes, its other half stays` : `Halves of ${list.length} linked pairs change alone`),
    `${joinWithAnd(halves)} ${halves.length === 1 ? 'stays as it is' : 'stay as they are'}: the two are linked, and would no longer be alike.`,
  );
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
  const list = findChanges(input, strange, (changes) => describeChanges(input.profile, input.after, changes));
  const [first] = list;
  const fx = first?.causes[0]?.split('/')[2] ?? '';
  return draft(
    input,
    'effect',
    'care',
    list,
    (who, one) => `${who} ${one ? 'sends' : 'send'} into another effect`,
    first
      ? `${displayName(profile, after, fx)} is set to ${String(kinds(after, fx))}; the scene had it set to ${String(kinds(scene, fx))}.`
      : '',
  );
}
