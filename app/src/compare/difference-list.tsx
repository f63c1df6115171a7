import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { CellDifference } from '@old-echo/core/compare/compare';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { describeDifference } from '@old-echo/core/phrases/describe-comparison';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';

interface DifferenceListProps {
  readonly profile: Profile;
  readonly names: State;
  /** Most heard first. */
  readonly cells: readonly CellDifference[];
  readonly chosen: string | null;
  readonly onChoose: (cell: string) => void;
}

const AT_FIRST = 40;

/** What differs, what one would hear most first. */
export function DifferenceList({ profile, names, cells, chosen, onChoose }: DifferenceListProps) {
  const look = useLook();
  const [shown, setShown] = useState(AT_FIRST);
  return (
    <View testID="differences">
      {cells.slice(0, shown).map((cell) => {
        const id = `${cell.strip}/${cell.section}`;
        return (
          <Pressable
            key={id}
            role="button"
            testID={`difference-${id}`}
            onPress={() => onChoose(id)}
            style={[styles.row, { borderColor: look.line }, chosen === id && { backgroundColor: look.wash }]}
          >
            <AppText
              kind="strong"
              tone={cell.higher === 'A' ? 'a' : cell.higher === 'B' ? 'b' : 'second'}
              style={styles.side}
            >
              {cell.higher ?? '·'}
            </AppText>
            <View style={styles.fill}>
              <AppText kind="strong" tone={cell.audible ? 'ink' : 'second'} numberOfLines={1}>
                {displayName(profile, names, cell.strip)} · {sectionName(cell.section)}
              </AppText>
              <AppText kind="small" tone="second" numberOfLines={2}>
                {describeDifference(profile, names, cell)}
                {cell.audible ? '' : ' · barely audible'}
              </AppText>
            </View>
          </Pressable>
        );
      })}
      {cells.length > shown ? (
        <Action title={`Show ${plural(cells.length - shown, 'more difference')}`} onPress={() => setShown(shown * 3)} />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH + 6, gap: SPACE.s, borderBottomWidth: 1 },
  side: { width: 16, textAlign: 'center' },
  fill: { flex: 1, minWidth: 0, paddingVertical: SPACE.xs },
});
