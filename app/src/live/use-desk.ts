import { createSelector } from '@reduxjs/toolkit';
import { skipToken } from '@reduxjs/toolkit/query';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { untouched, type State } from '@old-echo/core/desk/state';
import type { Profile } from '@old-echo/core/desk/profile';
import { stripDrift, type SettingChange } from '@old-echo/core/scene/drift';

import { api, useProfileQuery, useSceneStateQuery } from '../store/api';
import { useAppSelector, type RootState } from '../store/store';

export interface DeskNow {
  readonly desk: DeskView;
  readonly profile: Profile;
  /** As last heard; before anything was heard, the desk untouched. */
  readonly state: State;
  /** Whether {@link state} is what the desk holds at this moment. */
  readonly linked: boolean;
}

/** The desk that is followed, or undefined until it is known. Draws anew with every move: for screens, not for rows. */
export function useDesk(): DeskNow | undefined {
  const { desk, state, heard } = useAppSelector((root) => root.live);
  const profile = useProfileQuery(desk?.profileId ?? skipToken).data;
  // What every desk of this kind starts from, so that an unlinked desk can still be looked at.
  return desk && profile
    ? {
        desk,
        profile,
        state: state ?? untouchedOnce(profile),
        linked: heard && desk.link.state === 'linked' && state !== null,
      }
    : undefined;
}

const blank = new WeakMap<Profile, State>();
function untouchedOnce(profile: Profile): State {
  const state = blank.get(profile) ?? untouched(profile);
  blank.set(profile, state);
  return state;
}

/** Drift per strip, remembered for as long as neither side of the strip changes. */
const drifts = new WeakMap<object, WeakMap<object, readonly SettingChange[]>>();

export function driftOfStrip(profile: Profile, strip: string, was: State, now: State): readonly SettingChange[] {
  const [before, after] = [was[strip], now[strip]];
  if (!before || !after) return [];
  const known = drifts.get(before) ?? new WeakMap<object, readonly SettingChange[]>();
  drifts.set(before, known);
  const found = known.get(after) ?? stripDrift(profile, strip, before, after);
  known.set(after, found);
  return found;
}

const sceneStateOf = (root: RootState, id: string) => api.endpoints.sceneState.select(id)(root).data;

const selectDrift = createSelector(
  [
    (root: RootState) => root.live.state,
    (root: RootState) => (root.live.desk?.scene ? sceneStateOf(root, root.live.desk.scene.id) : undefined),
    (root: RootState) =>
      root.live.desk ? api.endpoints.profile.select(root.live.desk.profileId)(root).data : undefined,
  ],
  (now, was, profile): readonly SettingChange[] =>
    now && was && profile ? profile.strips.flatMap((strip) => driftOfStrip(profile, strip, was, now)) : [],
);

/** The scene that stands on the desk, as it was captured. */
export function useStandingState(): State | undefined {
  const id = useAppSelector((root) => root.live.desk?.scene?.id);
  return useSceneStateQuery(id ?? skipToken).data;
}

/** Every setting that has moved on the desk since the scene it stands on. */
export function useDrift(): readonly SettingChange[] {
  // Loads the scene where no screen has yet.
  useStandingState();
  return useAppSelector(selectDrift);
}
