import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { SceneView } from '@old-echo/core/contracts/scene';

import { when } from '../components/format-time';
import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { graphInRow, type Lane } from './version-graph';
import { GraphLines } from './version-graph-lines';

interface FoldRowProps {
  readonly name: string;
  readonly scenes: readonly SceneView[];
  readonly open: boolean;
  readonly lane: number;
  readonly room: number;
  readonly lanes: readonly Lane[];
  readonly onToggle: (name: string) => void;
}

export const GROUP_ROW_HEIGHT = TOUCH;

/** A run of scenes that Old Echo kept by itself, folded into one row. */
export const AutosaveGroupRow = memo(function FoldRow(props: FoldRowProps) {
  const { name, scenes, open, lane, room, lanes, onToggle } = props;
  const look = useLook();
  const newest = scenes[0];
  const lines = graphInRow(lanes, { lane, high: newest?.place ?? 0, low: scenes.at(-1)?.place ?? 0 });
  return (
    <Pressable
      role="button"
      aria-expanded={open}
      testID="autosave-group"
      onPress={() => onToggle(name)}
      style={styles.row}
    >
      <GraphLines
        // Where it is open, its own scenes show what bends into them.
        lines={open ? { ...lines, joints: [] } : lines}
        lane={lane}
        lanes={room}
        height={GROUP_ROW_HEIGHT}
        hollow
        small
      />
      <View style={styles.words}>
        <Icon of={open ? ChevronDown : ChevronRight} size={16} color={look.second} />
        <AppText kind="small" tone="second" numberOfLines={1}>
          {scenes.length} autosaved{newest ? ` · ${when(newest.madeAt)}` : ''}
        </AppText>
      </View>
    </Pressable>
  );
});

const styles = StyleSheet.create({
  row: { flexDirection: 'row', paddingHorizontal: SPACE.l, gap: SPACE.m, height: GROUP_ROW_HEIGHT },
  words: { flex: 1, minWidth: 0, flexDirection: 'row', alignItems: 'center', gap: SPACE.xs },
});
