import { readAddress, sectionOf } from '../desk/address';
import { isManual } from '../desk/manual';
import { type Profile, specOf } from '../desk/profile';
import { isNumberSpec, type Value } from '../desk/setting';
import { valueAt } from '../desk/state';
import { isMembership, levelsBehind, membershipAfter, muteChange, shutBy, waysOf } from './closed-ways';
import { compileScope, decisionFor } from './compile-scope';
import { glides } from './fade-curves';
import type { PlannedChange } from './planned-changes';
import type { Stage } from './restore-order';
import type { Step, StepsInput } from './step';

/** How long a strip takes to fade out of the way of something that cannot fade, in seconds, where the fade itself is not shorter. */
const ASIDE = 0.7;

/** What is heard as a jump on an open strip and cannot be moved slowly; its strip fades down for it, and up again. */
const JUMPS =
  /^(routing\/|sends\/[^/]+\/tap$|source\/|preamp\/(pad|polarity|phantom)$|inserts\/((\d+\/)?(kind|on)|device|delay)$)/;

/**
 * Whether a setting can be part of a fade: it moves slowly itself, a level in front of it does, or its strip fades aside for it. Nobody
 * turns knobs by hand like that.
 */
export const canFade = (profile: Profile, address: string): boolean => {
  const { strip = '', key = '' } = readAddress(address) ?? {};
  if (isManual(profile, strip)) return false;
  return /^(mute|sends\/[^/]+)\/on$/.test(key) || JUMPS.test(key) || glides(specOf(profile, address));
};

/**
 * A restore as a fade. What opens is opened at −∞ and rises, what closes falls and is closed then; everything rises and falls together;
 * a strip on which something jumps has faded down before it does, and rises again with the rest. What is not heard is not moved slowly:
 * what belongs to a strip that is closed is set before it opens, what belongs to one that closes is set when it is closed. So no path
 * is louder on its way than at both of its ends.
 */
export function fadeSteps({ profile, now, plan, safes, fade }: StepsInput): Step[] {
  const compiled = compileScope(profile, [], safes);
  const isFree = (address: string): boolean => {
    const parts = readAddress(address);
    return parts !== undefined && decisionFor(compiled, parts.strip, parts.key) !== 'safe';
  };
  const planned = new Map(plan.changes.map((change) => [change.address, change]));
  const is = (address: string): Value => valueAt(now, address) as Value;
  const end = (address: string): Value => planned.get(address)?.to ?? is(address);
  // Who leaves a group while it closes stays open, and who joins it closes with it.
  const isIn = membershipAfter(now, plan.changes);
  const behind = (way: Pick<PlannedChange, 'strip' | 'key'>) => levelsBehind(profile, now, way, isIn);
  const levels = (way: PlannedChange): string[] => behind(way).filter(isFree);

  const [openings, closings] = [waysOf(plan.changes, false), waysOf(plan.changes, true)];
  const isWay = new Set([...openings, ...closings].map(({ address }) => address));
  const closes = shutBy(now, closings, isIn);
  const isLate = ({ strip, key }: PlannedChange) =>
    closes.has(strip) && sectionOf(key) !== 'mute' && !isMembership(key);
  const aside = new Set([
    ...plan.guarded,
    ...plan.changes
      .filter((change) => JUMPS.test(change.key) && !isLate(change) && now[change.strip]?.['mute/on'] === false)
      .map(({ strip }) => strip),
  ]);

  // Levels behind which something opens or closes, or that go out of the way: all are back at the end where they are to be. What
  // closes is not heard at the end, whatever opens beside it, and rests at −∞ until it is closed.
  const down = new Set(closings.flatMap(levels));
  const opens = new Set(openings.flatMap(levels));
  const dips = new Set([...aside].flatMap((strip) => levels(muteChange(strip, true, 'guard'))));
  const low = new Set([...opens, ...dips]);
  const least = (address: string): Value => {
    const spec = specOf(profile, address);
    return spec && isNumberSpec(spec) ? spec.min : 0;
  };
  const moved = (address: string, from: Value, to: Value, stage: Stage): PlannedChange[] => {
    const parts = readAddress(address);
    return parts && from !== to ? [{ address, ...parts, from, to, stage }] : [];
  };

  // Nothing of a strip is heard before the mute opens that closes it, and nothing of one that is faded aside by all of its levels.
  const isAside = (strip: string) => behind({ strip, key: 'mute/on' }).every((level) => dips.has(level));
  const silent = new Set([...shutBy(now, openings, membershipAfter(now, [])), ...[...aside].filter(isAside)]);
  const rest = plan.changes.filter(({ address }) => !isWay.has(address) && !low.has(address) && !down.has(address));
  const isGliding = ({ address, strip }: PlannedChange) => glides(specOf(profile, address)) && !silent.has(strip);
  const late = rest.filter(isLate);
  const inTime = rest.filter((change) => !isLate(change));
  const gliding = inTime.filter(isGliding);
  const early = inTime.filter((change) => !isGliding(change));
  const guards = plan.guarded.map((strip) => muteChange(strip, true, 'guard'));
  const opened = plan.guarded.map((strip) => muteChange(strip, false, 'release'));
  return [
    {
      stage: 'guard',
      over: Math.min(fade, ASIDE),
      changes: [...dips].flatMap((a) => moved(a, is(a), least(a), 'guard')),
    },
    {
      stage: 'guard',
      over: 0,
      changes: [
        ...guards,
        ...[...opens].filter((a) => !dips.has(a)).flatMap((a) => moved(a, is(a), least(a), 'guard')),
      ],
    },
    { stage: 'patch', over: 0, changes: early.filter(({ stage }) => stage === 'patch') },
    { stage: 'process', over: 0, changes: early.filter(({ stage }) => stage !== 'patch') },
    { stage: 'process', over: 0, changes: [...openings, ...opened] },
    {
      stage: 'level',
      over: fade,
      changes: [
        ...gliding.map((change) => ({ ...change, stage: 'level' as const })),
        ...[...down].filter((a) => !low.has(a)).flatMap((a) => moved(a, is(a), least(a), 'level')),
        ...[...low].filter((a) => !down.has(a)).flatMap((a) => moved(a, least(a), end(a), 'level')),
      ],
    },
    { stage: 'release', over: 0, changes: closings },
    {
      stage: 'release',
      over: 0,
      changes: [...late, ...[...down].flatMap((a) => moved(a, least(a), end(a), 'release'))],
    },
  ];
}
