import { isControl, type Profile, stripFamily } from '../desk/profile';
import { isOff } from '../desk/setting';
import type { State, StripState } from '../desk/state';
import type { PlannedChange } from './planned-changes';
import type { Stage } from './restore-order';

/** Whether a strip belongs to a DCA or mute group. */
type Membership = (strip: string, control: string) => boolean;

/** Who belongs to what once some changes are made. */
export function membershipAfter(now: State, changes: readonly PlannedChange[]): Membership {
  const joined = new Map(changes.map(({ address, to }) => [address, to]));
  return (strip, control) => (joined.get(`${strip}/routing/${control}`) ?? now[strip]?.[`routing/${control}`]) === true;
}

/** Whether a setting says that a strip belongs to a DCA or mute group. */
export const isMembership = (key: string): boolean =>
  key.startsWith('routing/') && isControl(key.slice('routing/'.length));

/** The strips of which nothing is heard anywhere: their own mute is closed, or that of a DCA or mute group they belong to. */
export const shutStrips = (state: State): Set<string> =>
  silencedBy(
    state,
    Object.keys(state).filter((strip) => state[strip]?.['mute/on'] === true),
    membershipAfter(state, []),
  );

/** The strips of which nothing is heard while the mutes among some ways are closed. */
export const shutBy = (now: State, ways: readonly PlannedChange[], isIn: Membership): Set<string> =>
  silencedBy(
    now,
    ways.filter(({ key }) => key === 'mute/on').map(({ strip }) => strip),
    isIn,
  );

const silencedBy = (state: State, muted: readonly string[], isIn: Membership): Set<string> =>
  new Set(muted.flatMap((strip) => [strip, ...membersOf(state, strip, isIn)]));

const membersOf = (state: State, strip: string, isIn: Membership): string[] =>
  isControl(strip) ? Object.keys(state).filter((other) => isIn(other, strip)) : [];

/** The mutes and switches of sends among changes that close a way, or that open one. */
export const waysOf = (changes: readonly PlannedChange[], close: boolean): PlannedChange[] =>
  changes.filter(({ key, to }) =>
    key === 'mute/on' ? to === close : /^sends\/[^/]+\/on$/.test(key) ? to === !close : false,
  );

/**
 * The levels that decide how loud a way is: of a send's switch its level, of a mute the fader and what is sent before it. A DCA's
 * mute has behind it what its members send before their faders as well, that of a mute group their faders too.
 */
export function levelsBehind(
  profile: Profile,
  now: State,
  { strip, key }: Pick<PlannedChange, 'strip' | 'key'>,
  isIn: Membership,
): string[] {
  if (key !== 'mute/on') return presentAddresses(now, strip, [key.replace(/\/on$/, '/level')]);
  const hasFader = now[strip]?.['fader/level'] !== undefined;
  return [strip, ...membersOf(now, strip, isIn)].flatMap((one) =>
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

/** The change that closes a strip's own mute, or opens it. */
export const muteChange = (strip: string, to: boolean, stage: Stage): PlannedChange => ({
  address: `${strip}/mute/on`,
  strip,
  section: 'mute',
  key: 'mute/on',
  from: !to,
  to,
  stage,
});
