import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { MOST_RIPPLED, type RippleRequest } from '@old-echo/core/contracts/ripple';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { fullSettingName, plural, showValue } from '@old-echo/core/desk/wording';
import { sectionOf } from '@old-echo/core/desk/address';
import { specAt, type Profile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { stripName, type State } from '@old-echo/core/desk/state';

import { useDesk, useDrift } from '../../live/use-desk';
import {
  useDesksQuery,
  useProductionsQuery,
  useRippleMutation,
  useRipplePreviewQuery,
  useScenesInfiniteQuery,
} from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Action, Foot } from '../../ui/actions';
import { IconAction } from '../../ui/menu';
import { Body, Card, Empty, Head } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
import { toggled } from '../../ui/toggled';
import { useSide } from '../compare/use-side';
import { TickRow } from '../restore/tick-row';
import { useDo } from '../shell/use-do';
import { useKeys } from '../../ui/use-keys';
import { ChangeList } from '../strip/change-list';

/** Writes values into other scenes: which settings, which scenes, what that does to each. */
export function RippleScreen() {
  const { from, cells } = useLocalSearchParams<{ from?: string; cells?: string }>();
  return from && cells ? <FromScene from={from} cells={cells.split(',')} /> : <FromDesk />;
}

/** One value that is to be written. */
interface Written {
  readonly address: string;
  readonly strip: string;
  readonly value: Value;
}

interface RippleProps {
  /** Where the values come from, in words. */
  readonly over: string;
  readonly back: () => void;
  readonly desk: DeskView;
  readonly profile: Profile;
  /** The state whose labels name the strips. */
  readonly state: State;
  readonly values: readonly Written[];
  readonly productionId: string;
  /** Only scenes of this version. */
  readonly versionId?: string;
  /** Which scenes are offered, from the place of the one that they come after. */
  readonly isOffered: (scene: SceneView) => boolean;
  readonly after: number;
  /** Whether all are chosen at first. */
  readonly all: boolean;
}

/** What was just changed on the desk, for the scenes that come after the one that stands on it. */
function FromDesk() {
  const router = useRouter();
  const now = useDesk();
  const drift = useDrift();
  const standing = now?.desk.scene;
  if (!now || !standing) return <Waiting what="Looking at the desk" />;
  return (
    <Ripple
      over={`Changed since ${now.desk.baseline?.line ?? sceneTitle(standing)}`}
      back={() => router.navigate(`/desk/${now.desk.id}`)}
      desk={now.desk}
      profile={now.profile}
      state={now.state}
      values={(drift ?? []).map(({ address, strip, now: value }) => ({ address, strip, value }))}
      productionId={standing.productionId}
      versionId={standing.versionId}
      isOffered={(scene) => scene.place > standing.place}
      after={standing.place}
      all
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
  if (!side?.state || !side.profile || !side.productionId || !desk) return <Waiting what="Opening the scene" />;
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
  const done = useDo();
  const by = useAppSelector((root) => root.place.who);
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [picked, setPicked] = useState<ReadonlySet<string> | null>(all ? null : new Set());
  const [open, setOpen] = useState<string | null>(null);
  const [write, { isLoading }] = useRippleMutation();
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = useScenesInfiniteQuery({
    production: productionId,
    ...(versionId ? { versionId } : {}),
    ownOnly: true,
  });
  const scenes = (data?.pages.flatMap((page) => page.scenes) ?? [])
    .filter((scene) => scene.kind === 'scene' && isOffered(scene))
    .sort((a, b) => a.place - b.place)
    .slice(0, MOST_RIPPLED);
  // Pages come newest first: what lies between this one and the oldest that is loaded is still to be fetched.
  const oldest = data?.pages.at(-1)?.scenes.at(-1);
  const earlierToLoad = hasNextPage && (oldest?.place ?? 0) > after;
  const chosen = scenes.filter((scene) => picked?.has(scene.id) ?? !scene.protected);
  const settings = values.filter(({ address }) => !without.has(address));
  const request: RippleRequest = {
    settings: Object.fromEntries(settings.map(({ address, value }) => [address, value])),
    scenes: chosen.map(({ id, revision }) => ({ id, revision })),
    by,
  };
  const ready = settings.length > 0 && chosen.length > 0;
  const { data: previews } = useRipplePreviewQuery(ready ? { desk: desk.id, request } : skipToken);
  useKeys({ Escape: back });
  const toggle = ({ id }: SceneView) =>
    setPicked(
      toggled(
        chosen.map((scene) => scene.id),
        id,
      ),
    );
  const changing = previews?.filter((preview) => preview.changes.length > 0) ?? [];
  const apply = () =>
    void write({
      desk: desk.id,
      request: { ...request, scenes: request.scenes.filter(({ id }) => changing.some((p) => p.id === id)) },
    }).then((answer) =>
      done(
        Promise.resolve(answer),
        (made) => `Written into ${plural(made.scenes.length, 'scene')}. As they were, they are in the bin.`,
        answer.data && { url: `/ripples/${answer.data.id}/undo` },
      ).then((made) => made && back()),
    );
  if (values.length === 0)
    return (
      <View style={styles.fill}>
        <Head over={over} title="Into other scenes" onBack={back} />
        <Empty title="Nothing has drifted">
          Change something on the desk first; then it can be written into other scenes.
        </Empty>
      </View>
    );
  return (
    <View style={styles.fill}>
      <Head over={over} title="Into other scenes" onBack={back} />
      <Body tight>
        <Card>
          <Words testID="sentence">
            <Words kind="strong">{plural(settings.length, 'setting')}</Words> into{' '}
            <Words kind="strong">{plural(changing.length, 'scene')}</Words>. Everything else in them stays as it is.
          </Words>
        </Card>
        <Words kind="heading">What is written</Words>
        {values.slice(0, 200).map(({ address, strip, value }) => {
          const spec = specAt(profile, address);
          return (
            <TickRow
              key={address}
              name={`${stripName(profile, state, strip)} · ${fullSettingName(profile, address, state)}`}
              under={spec ? showValue(spec, value) : ''}
              tick={without.has(address) ? 'none' : 'all'}
              testID={`ripple-${address}`}
              onPress={() => setWithout(toggled(without, address))}
            />
          );
        })}
        <View style={styles.row}>
          <Words kind="heading" style={styles.fill}>
            Into which scenes
          </Words>
          <Action kind="quiet" title="All" onPress={() => setPicked(null)} />
          <Action kind="quiet" title="None" onPress={() => setPicked(new Set())} />
        </View>
        {scenes.length === 0 ? (
          <Empty title="No other scene">Scenes that this can be written into are listed here.</Empty>
        ) : null}
        {scenes.map((scene) => {
          const changes = previews?.find(({ id }) => id === scene.id)?.changes;
          const on = chosen.includes(scene);
          return (
            <View key={scene.id}>
              <TickRow
                name={sceneTitle(scene)}
                under={
                  scene.protected
                    ? 'Protected: lift its protection first'
                    : !on
                      ? 'Stays as it is'
                      : changes === undefined
                        ? 'Looking …'
                        : changes.length === 0
                          ? 'Has these values already'
                          : changes.length === 1
                            ? '1 setting changes'
                            : `${changes.length} settings change`
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
      <Foot>
        <Action
          kind="main"
          grow
          title={
            desk.showLock
              ? 'The show lock is on'
              : changing.length === 0
                ? 'Nothing would change'
                : `Write into ${plural(changing.length, 'scene')}`
          }
          busy={isLoading}
          disabled={changing.length === 0 || desk.showLock}
          onPress={apply}
        />
      </Foot>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center' },
  changes: { paddingLeft: SPACE.xl, paddingVertical: SPACE.s },
});
