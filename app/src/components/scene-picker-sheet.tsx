import { skipToken } from '@reduxjs/toolkit/query';
import { type ReactNode, useDeferredValue, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';

import { useScenesInfiniteQuery } from '../store/scenes-api';
import { Action, Chip } from '../ui/buttons';
import { Empty } from '../ui/layout';
import { Option } from '../ui/option';
import { SearchField } from '../ui/search-field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { when } from './format-time';

interface SceneSheetProps {
  readonly title: string;
  readonly production: ProductionView;
  readonly chosen: string | undefined;
  /** A scene that is not offered. */
  readonly without?: string;
  /** Stands before the search. */
  readonly above?: ReactNode;
  /** Stands before the scenes. */
  readonly first?: ReactNode;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (scene: SceneView) => void;
}

/** Chooses one scene of a production. */
export function SceneSheet(props: SceneSheetProps) {
  const { title, production, chosen, without, above, first, open, onClose, onChoose } = props;
  const [words, setWords] = useState('');
  const search = useDeferredValue(words);
  const [saved, setSaved] = useState(false);
  const { data, hasNextPage, fetchNextPage, isFetching } = useScenesInfiniteQuery(
    open ? { production: production.id, search, ownOnly: !saved } : skipToken,
  );
  const scenes = data?.pages.flatMap((page) => page.scenes).filter((scene) => scene.id !== without) ?? [];
  const versionOf = (scene: SceneView) => production.versions.find((v) => v.id === scene.versionId)?.name;
  return (
    <Sheet
      title={title}
      open={open}
      onClose={onClose}
      above={
        <>
          {above}
          <SearchField placeholder="Search scenes" value={words} onChange={setWords} />
          <View style={styles.row}>
            <Chip toggle title="Autosaved too" chosen={saved} onPress={() => setSaved(!saved)} />
          </View>
        </>
      }
    >
      {first}
      {scenes.map((scene) => (
        <Option
          key={scene.id}
          title={sceneTitle(scene)}
          under={[versionOf(scene), when(scene.madeAt)].filter(Boolean).join(' · ')}
          chosen={scene.id === chosen}
          onPress={() => {
            onChoose(scene);
            onClose();
          }}
        />
      ))}
      {scenes.length === 0 && !isFetching ? (
        <Empty title="No scene found">
          {saved ? 'Try fewer words.' : 'Try fewer words, or include autosaved scenes.'}
        </Empty>
      ) : null}
      {hasNextPage ? (
        <Action kind="quiet" title="Older scenes" busy={isFetching} onPress={() => void fetchNextPage()} />
      ) : null}
    </Sheet>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', paddingVertical: SPACE.s } });
