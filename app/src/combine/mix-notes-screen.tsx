import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { clock, MIX_NOTE_STATUSES, type MixNoteStatus, type WishView } from '@old-echo/core/contracts/mix-note';
import { displayName } from '@old-echo/core/desk/state';

import { useEditWishMutation, useSceneStateQuery, useWishesQuery } from '../store/api';
import { Action, Chip, Footer } from '../ui/buttons';
import { Body, Card, Empty, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Loading } from '../components/loading';
import { AppText } from '../ui/app-text';
import { compareHref } from '../components/links/compare-link';
import { useSide } from '../components/use-compare-side';
import { SceneSheet } from '../components/scene-picker-sheet';
import { useProduction } from '../components/use-production';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useShortcuts } from '../ui/use-shortcuts';
import { WishSheet } from './mix-note-sheet';

const STATE_WORDS: Readonly<Record<MixNoteStatus, string>> = {
  open: 'Open',
  tried: 'Tried',
  done: 'Done',
  declined: 'Declined',
};

/** What the client or the band asked for of a version. */
export function WishesScreen() {
  const { version: id } = useLocalSearchParams<{ version?: string }>();
  const { production, loaded } = useProduction();
  const version = production?.versions.find((one) => one.id === id) ?? production?.versions[0];
  if (production && version) return <Wishes production={production} version={version} />;
  return loaded ? (
    <Empty title="There is no such version">It may be in the bin.</Empty>
  ) : (
    <Loading what="Opening the wishes" />
  );
}

interface WishesProps {
  readonly production: ProductionView;
  readonly version: VersionView;
}

function Wishes({ production, version }: WishesProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: wishes } = useWishesQuery(version.id);
  const newest = version.newestSceneId ?? skipToken;
  const { data: state } = useSceneStateQuery(newest);
  const profile = useSide(version.newestSceneId ?? undefined)?.profile;
  const [only, setOnly] = useState<MixNoteStatus | null>(null);
  const [sheet, setSheet] = useState<WishView | 'new' | null>(null);
  const [answering, setAnswering] = useState<WishView | null>(null);
  const [edit] = useEditWishMutation();
  const back = () => router.navigate(`/mixes/${production.id}`);
  useShortcuts({ Escape: back, w: () => setSheet('new') });
  const nameOf = (strip: string) => (profile && state ? displayName(profile, state, strip) : strip);
  const strips = profile?.families.find(({ id }) => id === 'in')?.strips ?? [];
  const count = (of: MixNoteStatus) => wishes?.filter((wish) => wish.state === of).length ?? 0;
  const change = (wish: WishView, to: { state?: MixNoteStatus; sceneId?: string | null }) =>
    void done(edit({ id: wish.id, edit: { ...to, revision: wish.revision } }), () => '');
  const shown = wishes?.filter((wish) => only === null || wish.state === only) ?? [];
  return (
    <View style={styles.fill}>
      <Header over={`${production.name} · ${version.name}`} title="Wishes" onBack={back} />
      <Body tight>
        <View style={styles.chips} role="tablist">
          <Chip title={`All · ${wishes?.length ?? 0}`} chosen={only === null} onPress={() => setOnly(null)} />
          {MIX_NOTE_STATUSES.filter((one) => count(one) > 0).map((one) => (
            <Chip
              key={one}
              title={`${STATE_WORDS[one]} · ${count(one)}`}
              chosen={only === one}
              onPress={() => setOnly(only === one ? null : one)}
            />
          ))}
        </View>
        {!wishes ? <Loading what="Opening the wishes" /> : null}
        {wishes?.length === 0 ? (
          <Empty title="Nobody has wished for anything">
            Write down what the client or the band asks for; tick it with the scene that answers it.
          </Empty>
        ) : null}
        {shown.map((wish) => (
          <Wish
            key={wish.id}
            wish={wish}
            strip={wish.strip ? nameOf(wish.strip) : null}
            onEdit={() => setSheet(wish)}
            onState={(to) => change(wish, { state: to })}
            onAnswer={() => setAnswering(wish)}
          />
        ))}
        {wishes && wishes.length > 0 ? (
          <View style={styles.chips}>
            <Action
              kind="small"
              title="As CSV"
              onPress={() => globalThis.location.assign(`/api/wishes/list.csv?version=${version.id}`)}
            />
            <Action
              kind="small"
              title="Print"
              onPress={() => void globalThis.open(`/api/wishes/list.html?version=${version.id}`)}
            />
          </View>
        ) : null}
      </Body>
      <Footer>
        <Action kind="main" grow title="Add a wish" onPress={() => setSheet('new')} />
      </Footer>
      {sheet ? (
        <WishSheet
          version={version}
          wish={sheet === 'new' ? null : sheet}
          strips={strips.map((strip) => ({ strip, name: nameOf(strip) }))}
          onClose={() => setSheet(null)}
        />
      ) : null}
      {answering ? (
        <SceneSheet
          title="Which scene answers it?"
          production={production}
          chosen={answering.sceneId ?? undefined}
          open
          onClose={() => setAnswering(null)}
          onChoose={(scene) => change(answering, { sceneId: scene.id, state: 'done' })}
        />
      ) : null}
    </View>
  );
}

interface WishProps {
  readonly wish: WishView;
  readonly strip: string | null;
  readonly onEdit: () => void;
  readonly onState: (to: MixNoteStatus) => void;
  readonly onAnswer: () => void;
}

function Wish({ wish, strip, onEdit, onState, onAnswer }: WishProps) {
  const router = useRouter();
  const { id, text, at, who, state, sceneId, scene, beforeId } = wish;
  const about = [at === null ? '' : clock(at), strip, who].filter(Boolean).join(' · ');
  return (
    <Card edge={state === 'done' ? 'done' : state === 'open' ? 'care' : undefined}>
      <View testID={`wish-${id}`} style={styles.wish}>
        {about ? (
          <AppText kind="small" tone="second">
            {about}
          </AppText>
        ) : null}
        <AppText kind="strong" style={state === 'declined' ? styles.struck : null}>
          {text}
        </AppText>
        {scene ? (
          <AppText kind="small" tone="second">
            Answered by {scene}
          </AppText>
        ) : null}
        <View style={styles.chips} role="tablist" aria-label="State">
          {MIX_NOTE_STATUSES.map((one) => (
            <Chip key={one} title={STATE_WORDS[one]} chosen={state === one} onPress={() => onState(one)} />
          ))}
        </View>
        <View style={styles.chips}>
          <Action kind="small" title={scene ? 'Other scene' : 'Answer with a scene'} onPress={onAnswer} />
          {sceneId && beforeId ? (
            <Action
              kind="small"
              title="Before and after"
              onPress={() =>
                router.navigate(compareHref({ a: beforeId, others: [sceneId], at: 0, cell: null, desk: null }))
              }
            />
          ) : null}
          <Action kind="quiet" title="Edit" onPress={onEdit} />
        </View>
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  chips: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
  wish: { gap: SPACE.s, paddingVertical: SPACE.xs },
  struck: { textDecorationLine: 'line-through' },
});
