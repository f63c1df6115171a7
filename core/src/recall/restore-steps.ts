import { readAddress, sectionOf } from '../desk/address';
import { isControl, specOf, stripFamily, type Profile } from '../desk/profile';
import { isOff, type Value } from '../desk/setting';
import { valueAt, type SettingsByAddress, type State, type StripState } from '../desk/state';
import { compileScope, decisionFor } from './compile-scope';
import type { Safes } from './scope-rules';
import { glides } from './fade-curves';
import { STAGES, type Stage } from './restore-order';
import type { PlannedChange, Preview } from './planned-changes';

/** What is sent at one time, and confirmed before anything else is. */
export interface Step {
  readonly stage: Stage;
  readonly changes: readonly PlannedChange[];
  /** Seconds over which its settings move; 0 where they are sent at once. */
  readonly over: number;
}

export interface StepsInput {
  readonly profile: Profile;
  /** The desk as it is. */
  readonly now: State;
  readonly plan: Pick<Preview, 'changes' | 'guarded'>;
  readonly safes: Safes;
  /** Seconds over which levels move; 0 for a restore at once. */
  readonly fade: number;
}

/** How long a strip takes to fade out of the way of something that cannot fade, in seconds, where the fade itself is not shorter. */
const ASIDE = 0.7;

/** What is heard as a jump on an open strip and cannot be moved slowly; its strip fades down for it, and up again. */
const JUMPS =
  /^(routing\/|sends\/[^/]+\/tap$|source\/|preamp\/(pad|polarity|phantom)$|inserts\/((\d+\/)?(kind|on)|device|delay)$)/;

/** Whether a setting can be part of a fade: it moves slowly itself, a level in front of it does, or its strip fades aside for it. */
export const canFade = (profile: Profile, address: string): boolean => {
  const key = readAddress(address)?.key ?? '';
  return /^(mute|sends\/[^/]+)\/on$/.test(key) || JUMPS.test(key) || glides(specOf(profile, address));
};

/** Sections of which nothing is ever heard. */
const UNHEARD: ReadonlySet<string> = new Set(['label', 'view', 'automation']);

/**
 * A restore step by step. At once, stage by stage: what falls before what rises. As a fade: what opens is opened at −∞ and rises, what
 * closes falls and is closed then; everything rises and falls together; a strip on which something jumps has faded down before it does,
 * and rises again with the rest. What belongs to a strip that closes is set when it is closed.
 */
export function stepsOf(input: StepsInput): Step[] {
  return (input.fade > 0 ? fading(input) : atOnce(input)).filter(({ changes }) => changes.length > 0);
}

function atOnce({ plan }: StepsInput): Step[] {
  const guards = plan.guarded.map((strip) => mute(strip, false, true, 'guard'));
  const opened = plan.guarded.map((strip) => mute(strip, true, false, 'release'));
  return STAGES.flatMap((stage): Step[] => {
    const own = plan.changes.filter((change) => change.stage === stage);
    const falling = [...(stage === 'guard' ? guards : []), ...own.filter((change) => !rises(change))];
    const rising = [...own.filter(rises), ...(stage === 'release' ? opened : [])];
    return [
      { stage, changes: falling, over: 0 },
      { stage, changes: rising, over: 0 },
    ];
  });
}

const rises = ({ from, to }: PlannedChange): boolean => typeof from === 'number' && typeof to === 'number' && to > from;

function fading({ profile, now, plan, safes, fade }: StepsInput): Step[] {
  const compiled = compileScope(profile, [], safes);
  const isFree = (address: string): boolean => {
    const parts = readAddress(address);
    return parts !== undefined && decisionFor(compiled, parts.strip, parts.key) !== 'safe';
  };
  const planned = new Map(plan.changes.map((change) => [change.address, change]));
  const [openings, closings] = [waysOf(plan.changes, false), waysOf(plan.changes, true)];
  const closes = new Set(closings.flatMap(({ key, strip }) => (key === 'mute/on' ? [strip] : [])));
  const isOpen = (strip: string) => now[strip]?.['mute/on'] === false;
  const aside = new Set([
    ...plan.guarded,
    ...plan.changes.flatMap(({ strip, key }) =>
      JUMPS.test(key) && isOpen(strip) && !closes.has(strip) ? [strip] : [],
    ),
  ]);
  // Levels behind which something opens or closes, or that go out of the way: all are back at the end where they are to be.
  const levels = (way: PlannedChange): string[] => levelsBehind(profile, now, way).filter(isFree);
  const up = new Set(openings.flatMap(levels));
  const down = new Set(closings.flatMap(levels));
  const dips = new Set([...aside].flatMap((strip) => levels(mute(strip, false, true, 'guard'))));
  const is = (address: string): Value => valueAt(now, address) as Value;
  const end = (address: string): Value => planned.get(address)?.to ?? is(address);
  const least = (address: string): Value => (specOf(profile, address) as { min: number }).min;
  const moved = (address: string, from: Value, to: Value, stage: Stage): PlannedChange[] => {
    const parts = readAddress(address);
    return parts && from !== to ? [{ address, ...parts, from, to, stage }] : [];
  };
  const far = [...dips].flatMap((address) => moved(address, is(address), least(address), 'guard'));
  const shut = [...up].filter((a) => !dips.has(a)).flatMap((a) => moved(a, is(a), least(a), 'guard'));
  const gliding = plan.changes.filter(
    ({ address }) => glides(specOf(profile, address)) && !up.has(address) && !down.has(address) && !dips.has(address),
  );
  const late = ({ strip, key }: PlannedChange) => closes.has(strip) && sectionOf(key) !== 'mute';
  const isWay = new Set([...openings, ...closings].map(({ address }) => address));
  const jumping = plan.changes.filter(
    (change) =>
      !isWay.has(change.address) &&
      !gliding.includes(change) &&
      ![up, down, dips].some((set) => set.has(change.address)),
  );
  const early = jumping.filter((change) => !late(change));
  const of = (stage: Stage) => early.filter((change) => change.stage === stage);
  const guards = plan.guarded.map((strip) => mute(strip, false, true, 'guard'));
  const opened = plan.guarded.map((strip) => mute(strip, true, false, 'release'));
  return [
    { stage: 'guard', changes: far, over: Math.min(fade, ASIDE) },
    { stage: 'guard', changes: [...guards, ...shut], over: 0 },
    { stage: 'patch', changes: of('patch'), over: 0 },
    { stage: 'process', changes: early.filter(({ stage }) => stage !== 'patch'), over: 0 },
    { stage: 'process', changes: [...openings, ...opened], over: 0 },
    {
      stage: 'level',
      over: fade,
      changes: [
        ...gliding.filter((change) => !late(change)).map((change) => ({ ...change, stage: 'level' as const })),
        ...[...down].filter((a) => !up.has(a)).flatMap((a) => moved(a, is(a), least(a), 'level')),
        ...[...up, ...[...dips].filter((a) => !up.has(a) && !down.has(a))].flatMap((a) =>
          moved(a, least(a), end(a), 'level'),
        ),
      ],
    },
    { stage: 'release', changes: closings, over: 0 },
    {
      stage: 'release',
      over: 0,
      changes: [
        ...jumping.filter(late),
        ...gliding.filter(late),
        ...[...down].filter((a) => !up.has(a)).flatMap((a) => moved(a, least(a), end(a), 'release')),
      ],
    },
  ];
}

/** The mutes and switches of sends among changes that close a way, or that open one. */
const waysOf = (changes: readonly PlannedChange[], close: boolean): PlannedChange[] =>
  changes.filter(({ key, to }) =>
    key === 'mute/on' ? to === close : /^sends\/[^/]+\/on$/.test(key) ? to === !close : false,
  );

/**
 * The levels that decide how loud a way is: of a send's switch its level, of a mute the fader and what is sent before it. A DCA's
 * mute has behind it what its members send before their faders as well, that of a mute group their faders too.
 */
function levelsBehind(profile: Profile, now: State, { strip, key }: PlannedChange): string[] {
  if (key !== 'mute/on') return presentAddresses(now, strip, [key.replace(/\/on$/, '/level')]);
  const hasFader = now[strip]?.['fader/level'] !== undefined;
  const members = isControl(strip) ? profile.strips.filter((other) => now[other]?.[`routing/${strip}`] === true) : [];
  return [strip, ...members].flatMap((one) =>
    presentAddresses(now, one, [
      ...(one === strip || !hasFader ? ['fader/level'] : []),
      ...sendsBefore(profile, one, now[one] ?? {}),
    ]),
  );
}

const presentAddresses = (now: State, strip: string, keys: readonly string[]): string[] =>
  keys.filter((key) => now[strip]?.[key] !== undefined).map((key) => `${strip}/${key}`);

/** The levels of what a strip sends from before its fader. */
const sendsBefore = (profile: Profile, name: string, strip: StripState): string[] =>
  Object.entries(stripFamily(profile, name)?.settings ?? {}).flatMap(([key, spec]) => {
    const base = /^(sends\/[^/]+)\/level$/.exec(key)?.[1];
    const isSent = base !== undefined && strip[`${base}/tap`] === 'pre' && strip[`${base}/on`] !== false;
    return isSent && !isOff(spec, strip[key]) ? [key] : [];
  });

const mute = (strip: string, from: boolean, to: boolean, stage: Stage): PlannedChange => ({
  address: `${strip}/mute/on`,
  strip,
  section: 'mute',
  key: 'mute/on',
  from,
  to,
  stage,
});

/** Where levels are at the end that only move on the way, and are in no preview. */
export function asideOf(
  steps: readonly Step[],
  { changes, guarded }: Pick<Preview, 'changes' | 'guarded'>,
): SettingsByAddress {
  const known = new Set([...changes.map(({ address }) => address), ...guarded.map((strip) => `${strip}/mute/on`)]);
  const ends: Record<string, Value> = {};
  for (const step of steps) for (const { address, to } of step.changes) if (!known.has(address)) ends[address] = to;
  return ends;
}

/**
 * Of the changes of a restore that fades, those that are heard as a jump: neither moved slowly, nor made while their strip is closed or
 * has faded aside.
 */
export function jumpsOf(steps: readonly Step[], { changes }: Pick<Preview, 'changes'>, now: State): string[] {
  const gliding = steps.filter(({ over }) => over > 0).flatMap((step) => step.changes);
  const faded = new Set(gliding.flatMap(({ address }) => [address, ...wayBehind(address)]));
  const quiet = new Set([
    ...gliding.filter(({ stage }) => stage === 'guard').map(({ strip }) => strip),
    ...changes.filter(({ key, to }) => key === 'mute/on' && to === true).map(({ strip }) => strip),
  ]);
  const fadesBehind = ({ strip, key }: PlannedChange) => {
    if (key !== 'mute/on' || !isControl(strip)) return false;
    const members = Object.keys(now).filter((other) => now[other]?.[`routing/${strip}`] === true);
    return members.every((member) => now[member]?.['mute/on'] === true || faded.has(`${member}/fader/level`));
  };
  return changes
    .filter((change) => !faded.has(change.address) && !UNHEARD.has(change.section) && !fadesBehind(change))
    .filter(({ strip }) => !quiet.has(strip) && now[strip]?.['mute/on'] !== true)
    .map(({ address }) => address);
}

/** The switch that a level makes silent. */
const wayBehind = (level: string): string[] =>
  level.endsWith('fader/level')
    ? [level.replace(/fader\/level$/, 'mute/on')]
    : level.endsWith('/level')
      ? [level.replace(/\/level$/, '/on')]
      : [];
