import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';

import { MOST_RIPPLED, type RippleRequest } from '@old-echo/core/contracts/ripple';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { fullSettingName, plural, showValue } from '@old-echo/core/desk/wording';
import { specAt } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';

import { useDesk, useDrift, type DeskNow } from '../../live/use-desk';
import { useRippleMutation, useRipplePreviewQuery, useScenesInfiniteQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Action, Foot } from '../../ui/actions';
import { IconAction } from '../../ui/menu';
import { Body, Card, Empty, Head } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
import { toggled } from '../../ui/toggled';
import { TickRow } from '../restore/tick-row';
import { useDo } from '../shell/use-do';
import { useKeys } from '../shell/use-keys';
import { ChangeList } from '../strip/change-list';

/** Writes what was just changed on the desk into other scenes: which settings, which scenes, what that does to each. */
export function RippleScreen() {
  const now = useDesk();
  const scene = now?.desk.scene;
  return now && scene ? <Ripple now={now} standing={scene} /> : <Waiting what="Looking at the desk" />;
}

function Ripple({ now, standing }: { now: DeskNow; standing: NonNullable<DeskNow['desk']['scene']> }) {
  const router = useRouter();
  const done = useDo();
  const drift = useDrift();
  const by = useAppSelector((root) => root.place.who);
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [picked, setPicked] = useState<ReadonlySet<string> | null>(null);
  const [open, setOpen] = useState<string | null>(null);
  const [write, { isLoading }] = useRippleMutation();
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = useScenesInfiniteQuery({
    production: standing.productionId,
    versionId: standing.versionId,
    ownOnly: true,
  });
  const scenes = useMemo(
    () =>
      (data?.pages.flatMap((page) => page.scenes) ?? [])
        .filter((scene) => scene.kind === 'scene' && scene.number > standing.number)
        .sort((a, b) => a.number - b.number)
        .slice(0, MOST_RIPPLED),
    [data, standing.number],
  );
  // Pages come newest first: what lies between this one and the oldest that is loaded is still to be fetched.
  const oldest = data?.pages.at(-1)?.scenes.at(-1);
  const earlierToLoad = hasNextPage && (oldest?.number ?? 0) > standing.number;
  const chosen = scenes.filter((scene) => picked?.has(scene.id) ?? !scene.protected);
  const settings = drift.filter((change) => !without.has(change.address));
  const request: RippleRequest = {
    settings: Object.fromEntries(settings.map(({ address, now: value }) => [address, value])),
    scenes: chosen.map(({ id, revision }) => ({ id, revision })),
    by,
  };
  const ready = settings.length > 0 && chosen.length > 0;
  const { data: previews } = useRipplePreviewQuery(ready ? { desk: now.desk.id, request } : skipToken);
  const back = () => router.navigate(`/desk/${now.desk.id}`);
  useKeys({ Escape: back });
  const { profile, state } = now;
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
      desk: now.desk.id,
      request: { ...request, scenes: request.scenes.filter(({ id }) => changing.some((p) => p.id === id)) },
    }).then((answer) =>
      done(
        Promise.resolve(answer),
        (made) => `Written into ${plural(made.scenes.length, 'scene')}. As they were, they are in the bin.`,
        answer.data && { url: `/ripples/${answer.data.id}/undo` },
      ).then((made) => made && back()),
    );
  if (drift.length === 0)
    return (
      <View style={styles.fill}>
        <Head title="Into other scenes" onBack={back} />
        <Empty title="Nothing has drifted">
          Change something on the desk first; then it can be written into other scenes.
        </Empty>
      </View>
    );
  return (
    <View style={styles.fill}>
      <Head over={`Changed since ${standing.number} ${standing.name}`} title="Into other scenes" onBack={back} />
      <Body tight>
        <Card>
          <Words testID="sentence">
            <Words kind="strong">{plural(settings.length, 'setting')}</Words> into{' '}
            <Words kind="strong">{plural(changing.length, 'scene')}</Words>. Everything else in them stays as it is.
          </Words>
        </Card>
        <Words kind="heading">What is written</Words>
        {drift.slice(0, 200).map(({ address, strip, now: value }) => {
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
          <Empty title="No later scene">Scenes of the same version that come after this one are listed here.</Empty>
        ) : null}
        {scenes.map((scene) => {
          const changes = previews?.find(({ id }) => id === scene.id)?.changes;
          const on = chosen.includes(scene);
          return (
            <View key={scene.id}>
              <TickRow
                name={`${scene.number} ${scene.name}`}
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
            now.desk.showLock
              ? 'The show lock is on'
              : changing.length === 0
                ? 'Nothing would change'
                : `Write into ${plural(changing.length, 'scene')}`
          }
          busy={isLoading}
          disabled={changing.length === 0 || now.desk.showLock}
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
