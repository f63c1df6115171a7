import { createSelector } from '@reduxjs/toolkit';
import { skipToken } from '@reduxjs/toolkit/query';
import { useGlobalSearchParams } from 'expo-router';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { diffStrip, type SettingChange } from '@old-echo/core/desk/diff-states';
import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';

import { deskApi, useBaselineQuery, useProfileQuery } from './desk-api';
import { type RootState, useAppSelector } from './store';

export interface LiveDesk {
  readonly desk: DeskView;
  readonly profile: Profile;
  /** As last heard; without any strip where nothing was ever heard. */
  readonly state: State;
  /** Whether anything was ever heard of the desk. */
  readonly known: boolean;
  /** Whether {@link state} is what the desk holds at this moment. */
  readonly linked: boolean;
}

/** Why nothing can be sent to a desk or captured from it now. */
export const whyNotLinked = (now: LiveDesk | undefined): string | false =>
  now === undefined ? 'The desk is not known yet.' : !now.linked && `${now.desk.name} is not connected.`;

/** What keeps a desk and its scenes as they are. */
export const whyLocked = ({ showLock }: DeskView): string | false => showLock && 'The show is locked.';

/** The desk that the address of the page names, or the one that this tab is on. */
export function useDeskId(): string | null {
  const { desk: named } = useGlobalSearchParams<{ desk?: string }>();
  const followed = useAppSelector((root) => root.place.deskId);
  return named ?? followed;
}

/**
 * The desk that the address names or this tab is on, or undefined until it is known, or where it is not the one that is
 * meant. Draws anew with every move: for screens, not for rows.
 */
export function useLiveDesk(meant?: string): LiveDesk | undefined {
  const wanted = useDeskId();
  const { deskId, desk, state, heard } = useAppSelector((root) => root.live);
  const profile = useProfileQuery(desk?.profileId ?? skipToken).data;
  if (!desk || !profile || desk.id !== deskId || desk.id !== (meant ?? wanted)) return undefined;
  const linked = heard && desk.link.state === 'linked' && state !== null;
  // What was heard before is on its way as soon as the server says that there is such a thing.
  if (state === null && desk.heardAt !== null) return undefined;
  return { desk, profile, state: state ?? NOTHING_KNOWN, known: state !== null, linked };
}

const NOTHING_KNOWN: State = {};

/** Drift per strip, remembered for as long as neither side of the strip changes. */
const drifts = new WeakMap<object, WeakMap<object, readonly SettingChange[]>>();

export function stripDrift(profile: Profile, strip: string, was: State, now: State): readonly SettingChange[] {
  const [before, after] = [was[strip], now[strip]];
  if (!before || !after) return [];
  const known = drifts.get(before) ?? new WeakMap<object, readonly SettingChange[]>();
  drifts.set(before, known);
  const found = known.get(after) ?? diffStrip(profile, strip, before, after);
  known.set(after, found);
  return found;
}

const baselineOf = (root: RootState): State | undefined => {
  const { desk } = root.live;
  return desk?.baseline
    ? deskApi.endpoints.baseline.select({ desk: desk.id, revision: desk.baseline.revision, scene: desk.scene?.id })(
        root,
      ).data
    : undefined;
};

const selectDrift = createSelector(
  [
    (root: RootState) => root.live.state,
    baselineOf,
    (root: RootState) =>
      root.live.desk ? deskApi.endpoints.profile.select(root.live.desk.profileId)(root).data : undefined,
  ],
  (now, was, profile): readonly SettingChange[] =>
    now && was && profile ? profile.strips.flatMap((strip) => stripDrift(profile, strip, was, now)) : [],
);

/** What the desk is meant to hold, after the last capture or restore. */
export function useBaseline(): State | undefined {
  const desk = useAppSelector((root) => root.live.desk);
  const asked = desk?.baseline && { desk: desk.id, revision: desk.baseline.revision, scene: desk.scene?.id };
  return useBaselineQuery(asked ?? skipToken).data;
}

/** Every setting that has moved on the desk since it was what it is meant to hold; undefined while that is not known. */
export function useDrift(): readonly SettingChange[] | undefined {
  const baseline = useBaseline();
  const known = useAppSelector((root) => root.live.state !== null);
  const drift = useAppSelector(selectDrift);
  return known && baseline ? drift : undefined;
}
