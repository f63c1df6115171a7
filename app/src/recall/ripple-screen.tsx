import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { MAX_RIPPLED_SCENES, type RippleRequest } from '@old-echo/core/contracts/ripple';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { sectionOf } from '@old-echo/core/desk/address';
import type { SettingChange } from '@old-echo/core/desk/diff-states';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import type { State } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { ChangeList } from '../components/change-list';
import { CheckRow } from '../components/check-row';
import { FaultBelow } from '../components/fault-card';
import { JobProgress } from '../components/job-progress';
import { Loading } from '../components/loading';
import { useSide } from '../components/use-compare-side';
import { useDesksQuery } from '../store/desk-api';
import { useRipplePreviewQuery } from '../store/recall-api';
import { useProductionsQuery, useScenesInfiniteQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { useDrift, useLiveDesk, whyLocked } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { toggled } from '../ui/toggle-in-set';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { isRide, offsetOf, type RippleValue, WrittenList } from './ripple-settings';
import { useRippleJob } from './use-ripple-job';

/** Writes values into other scenes: which settings, which scenes, what that does to each. */
export function RippleScreen() {
  const { from, cells } = useLocalSearchParams<{ from?: string; cells?: string }>();
  return from && cells ? <FromScene from={from} cells={cells.split(',')} /> : <FromDesk />;
}

interface RippleProps {
  /** Where the values come from, in words. */
  readonly over: string;
  readonly back: () => void;
  readonly desk: DeskView;
  readonly profile: Profile;
  /** The state whose labels name the strips. */
  readonly state: State;
  readonly values: readonly RippleValue[];
  readonly productionId: string;
  /** Only scenes of this version. */
  readonly versionId?: string;
  /** Which scenes are offered, from the place of the one that they come after. */
  readonly isOffered: (scene: SceneView) => boolean;
  readonly after: number;
  /** Whether all are chosen at first. */
  readonly all: boolean;
  /** Whether levels and mutes that were moved are taken for rides, which nothing is made of unless they are chosen. */
  readonly ridesApart?: boolean;
}

/** What was just changed on the desk, for the scenes that come after the one that stands on it. */
function FromDesk() {
  const router = useRouter();
  const now = useLiveDesk();
  const drift = useDrift();
  const standing = now?.desk.scene;
  if (!now || !standing) return <Loading what="Loading the desk" />;
  return (
    <Ripple
      over={`Changed since ${now.desk.baseline?.line ?? sceneTitle(standing)}`}
      back={() => router.navigate(`/desk/${now.desk.id}`)}
      desk={now.desk}
      profile={now.profile}
      state={now.state}
      values={(drift ?? []).map(({ address, strip, now: value, was }) => ({ address, strip, value, was }))}
      productionId={standing.productionId}
      versionId={standing.versionId}
      isOffered={(scene) => scene.place > standing.place}
      after={standing.place}
      all
      ridesApart={now.desk.mode === 'live'}
    />
  );
}

/** Cells of one scene, for any other scene of its production. */
function FromScene({ from, cells }: { readonly from: string; readonly cells: readonly string[] }) {
  const router = useRouter();
  const side = useSide(from);
  const { data: desks } = useDesksQuery();
  const { data: productions } = useProductionsQuery();
  const deskId = productions?.find(({ id }) => id === side?.productionId)?.deskId;
  const desk = desks?.find(({ id }) => id === deskId);
  if (side?.fault) return <Empty title={side.fault.message}>{side.fault.advice}</Empty>;
  if (!side?.state || !side.profile || !side.productionId || !desk) return <Loading what="Loading the scene" />;
  const { profile, state, productionId } = side;
  const values = cells.flatMap((cell) => {
    const [strip = '', section] = cell.split('/');
    return Object.entries(state[strip] ?? {}).flatMap(([key, value]) =>
      sectionOf(key) === section ? [{ address: `${strip}/${key}`, strip, value }] : [],
    );
  });
  return (
    <Ripple
      over={`From ${side.title}`}
      back={() => router.navigate(`/mixes/${productionId}/scene/${from}`)}
      desk={desk}
      profile={profile}
      state={state}
      values={values}
      productionId={productionId}
      isOffered={(scene) => scene.id !== from}
      after={0}
      all={false}
    />
  );
}

function Ripple(props: RippleProps) {
  const { over, back, desk, profile, state, values, productionId, versionId, isOffered, after, all } = props;
  const rides = props.ridesApart ? values.filter(isRide) : [];
  const others = values.filter((value) => !rides.includes(value));
  const by = useAppSelector((root) => root.place.who);
  // Until somebody chooses, rides are left out.
  const [left, setWithout] = useState<ReadonlySet<string> | null>(null);
  const without = left ?? new Set(rides.map(({ address }) => address));
  const [byAmount, setByAmount] = useState(false);
  const [picked, setPicked] = useState<ReadonlySet<string> | null>(all ? null : new Set());
  const [open, setOpen] = useState<string | null>(null);
  const job = useRippleJob(back);
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = useScenesInfiniteQuery({
    production: productionId,
    ...(versionId ? { versionId } : {}),
    ownOnly: true,
  });
  const scenes = (data?.pages.flatMap((page) => page.scenes) ?? [])
    .filter((scene) => scene.kind === 'scene' && isOffered(scene))
    .sort((a, b) => a.place - b.place)
    .slice(0, MAX_RIPPLED_SCENES);
  // Pages come newest first: what lies between this one and the oldest that is loaded is still to be fetched.
  const oldest = data?.pages.at(-1)?.scenes.at(-1);
  const earlierToLoad = hasNextPage && (oldest?.place ?? 0) > after;
  const chosen = scenes.filter((scene) => picked?.has(scene.id) ?? !scene.protected);
  const settings = values.filter(({ address }) => !without.has(address));
  const canOffset = values.some((written) => offsetOf(profile, written) !== undefined);
  const offsets = Object.fromEntries(
    settings.flatMap((written) => {
      const by = byAmount ? offsetOf(profile, written) : undefined;
      return by === undefined ? [] : [[written.address, by]];
    }),
  );
  const request: RippleRequest = {
    settings: Object.fromEntries(
      settings.flatMap(({ address, value }) => (address in offsets ? [] : [[address, value]])),
    ),
    offsets,
    scenes: chosen.map(({ id, revision }) => ({ id, revision })),
    by,
  };
  const ready = settings.length > 0 && chosen.length > 0;
  const { data: looked } = useRipplePreviewQuery(ready ? { desk: desk.id, request } : skipToken);
  // While another choice is looked at, what is known of the last one: never of a scene that is not chosen any more.
  const previews = ready ? looked?.filter(({ id }) => chosen.some((scene) => scene.id === id)) : undefined;
  useShortcuts({ Escape: back });
  const shown = { profile, state, byAmount, without, onChange: setWithout };
  /** How many settings of a scene would have gone further than their range. */
  const ending = (changes: readonly SettingChange[]) => {
    const short = changes.filter(({ address, was, now }) => {
      const [spec, by] = [specOf(profile, address), offsets[address]];
      return spec && isNumberSpec(spec) && by !== undefined && Math.abs(Number(now) - Number(was) - by) > spec.step;
    });
    return short.length === 0 ? '' : `; ${short.length} only to the limit of its range`;
  };
  const toggle = ({ id }: SceneView) =>
    setPicked(
      toggled(
        chosen.map((scene) => scene.id),
        id,
      ),
    );
  const changing = previews?.filter((preview) => preview.changes.length > 0) ?? [];
  const apply = () =>
    void job.start(desk.id, {
      ...request,
      scenes: request.scenes.filter(({ id }) => changing.some((preview) => preview.id === id)),
    });
  if (job.running)
    return (
      <View style={styles.fill}>
        <Header over={over} title="Applying to other scenes" onBack={back} />
        <Body>
          <JobProgress job={job.running} of="scene" />
        </Body>
        <Footer>
          <Action grow title="Cancel" onPress={job.cancel} />
        </Footer>
      </View>
    );
  if (values.length === 0)
    return (
      <View style={styles.fill}>
        <Header over={over} title="Apply to other scenes" onBack={back} />
        <Empty title="Nothing has drifted">
          Change something on the desk first; then it can be applied to other scenes.
        </Empty>
      </View>
    );
  return (
    <View style={styles.fill}>
      <Header over={over} title="Apply to other scenes" onBack={back} />
      <Body tight>
        <Card>
          <AppText testID="sentence">
            {settings.length === 0 ? (
              'Nothing is chosen. Everything in the scenes stays as it is.'
            ) : (
              <>
                <AppText kind="strong">{plural(settings.length, 'setting')}</AppText> to{' '}
                <AppText kind="strong">{plural(changing.length, 'scene')}</AppText>. Everything else in them stays as it
                is.
              </>
            )}
          </AppText>
        </Card>
        {canOffset ? (
          <ChipRow role="tablist">
            <Chip title="To these values" chosen={!byAmount} onPress={() => setByAmount(false)} />
            <Chip title="By as much as here" chosen={byAmount} onPress={() => setByAmount(true)} />
          </ChipRow>
        ) : null}
        {others.length > 0 ? <WrittenList {...shown} title="Settings to apply" list={others} /> : null}
        {rides.length > 0 ? (
          <WrittenList
            {...shown}
            title="Rides"
            under="Faders, sends and mutes that moved since it came up. Left out unless you choose them."
            list={rides}
          />
        ) : null}
        <View style={styles.row}>
          <AppText kind="heading" style={styles.fill}>
            To which scenes
          </AppText>
          <Action kind="quiet" title="All" onPress={() => setPicked(null)} />
          <Action kind="quiet" title="None" onPress={() => setPicked(new Set())} />
        </View>
        {scenes.length === 0 ? (
          <Empty title="No other scene">Scenes that this can be applied to are listed here.</Empty>
        ) : null}
        {scenes.map((scene) => {
          const changes = previews?.find(({ id }) => id === scene.id)?.changes;
          const on = chosen.includes(scene);
          return (
            <View key={scene.id}>
              <CheckRow
                name={sceneTitle(scene)}
                under={
                  scene.protected
                    ? 'Protected: unprotect it first'
                    : !on
                      ? 'Stays as it is'
                      : changes === undefined
                        ? 'Checking …'
                        : changes.length === 0
                          ? 'Has these values already'
                          : changes.length === 1
                            ? `1 setting changes${ending(changes)}`
                            : `${changes.length} settings change${ending(changes)}`
                }
                tick={on ? 'all' : 'none'}
                testID={`into-${scene.number}`}
                onPress={() => scene.protected || toggle(scene)}
                more={
                  on && changes && changes.length > 0 ? (
                    <IconAction
                      of={open === scene.id ? ChevronDown : ChevronRight}
                      name={`What changes in ${scene.name}`}
                      onPress={() => setOpen(open === scene.id ? null : scene.id)}
                    />
                  ) : null
                }
              />
              {open === scene.id && changes ? (
                <View style={styles.changes}>
                  <ChangeList profile={profile} names={state} changes={changes} />
                </View>
              ) : null}
            </View>
          );
        })}
        {earlierToLoad ? (
          <Action title="More scenes" busy={isFetchingNextPage} onPress={() => void fetchNextPage()} />
        ) : null}
      </Body>
      <FaultBelow error={job.refused} />
      {job.ended ? (
        <View style={styles.ended}>
          <Card edge="care">
            <AppText>{job.ended}</AppText>
          </Card>
        </View>
      ) : null}
      <MainAction
        asks={DESK_RECALL_ROUTES.startRipple}
        title={
          desk.showLock
            ? 'The show is locked'
            : changing.length === 0
              ? 'No change'
              : `Apply to ${plural(changing.length, 'scene')}`
        }
        busy={job.busy}
        disabled={whyLocked(desk) || (changing.length === 0 && 'Every scene has it already, or none is chosen.')}
        onPress={apply}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center' },
  ended: { paddingHorizontal: SPACE.l },
  changes: { paddingLeft: SPACE.xl, paddingVertical: SPACE.s },
});
