import { useMemo, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';

import { cellOf } from '@old-echo/core/combine/merge-states';
import { type CellDifference, comparable, compare } from '@old-echo/core/compare/compare';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { displayName, type State } from '@old-echo/core/desk/state';
import { describeDifference } from '@old-echo/core/phrases/describe-comparison';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { Empty } from '../ui/layout';
import { NameLines } from '../ui/name-lines';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import type { Combination } from './use-combination';

interface PickListProps {
  readonly combination: Combination;
  /** The scene that is taken from. */
  readonly from: string;
  /** A scene's letter. */
  readonly letterOf: (scene: string) => string;
}

const INITIAL_ROWS = 30;

/** Everything that differs between the base and another scene, to be taken cell by cell, strip by strip, by section or family. */
export function PickList({ combination, from, letterOf }: PickListProps) {
  const { profile, base, sources, made, recipe, pick } = combination;
  const [shown, setShown] = useState(INITIAL_ROWS);
  const other = sources[from]?.state;
  const cells = useMemo(
    () => (other ? compare(profile, ...comparable(base.state, other)).cells : []),
    [profile, base.state, other],
  );
  const originOf = (cell: CellDifference) => made.origins[cellOf(cell)] ?? recipe.base;
  const isTaken = (cell: CellDifference) => originOf(cell) === from;
  /** Takes all of some cells, or gives all of them back where all were taken. */
  const take = (some: readonly CellDifference[]) => {
    const back = some.every(isTaken);
    pick(Object.fromEntries(some.map((cell) => [cellOf(cell), back ? (recipe.merge ? recipe.base : null) : from])));
  };
  if (cells.length === 0) return <Empty title="No differences from A">Choose another scene above.</Empty>;
  const strips = [...new Set(cells.map(({ strip }) => strip))];
  const groups = [
    { name: 'Everything', cells },
    ...profile.families
      .map(({ id, name }) => ({ name, cells: cells.filter(({ strip }) => stripFamily(profile, strip)?.id === id) }))
      .filter((group) => group.cells.length > 0 && group.cells.length < cells.length),
    ...SECTIONS.map((section) => ({
      name: sectionName(section),
      cells: cells.filter((cell) => cell.section === section),
    })).filter((group) => group.cells.length > 0),
  ];
  return (
    <View style={styles.list} testID="picks">
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.groups}>
        {groups.map((group) => (
          <Chip
            key={group.name}
            toggle
            title={group.name}
            chosen={group.cells.every(isTaken)}
            onPress={() => take(group.cells)}
          />
        ))}
      </ScrollView>
      {strips.slice(0, shown).map((strip) => (
        <StripPicks
          key={strip}
          profile={profile}
          names={base.state}
          name={displayName(profile, base.state, strip)}
          cells={cells.filter((cell) => cell.strip === strip)}
          letterOf={(cell) => letterOf(originOf(cell))}
          isTaken={isTaken}
          onTake={take}
        />
      ))}
      {strips.length > shown ? (
        <Action title={`Show ${plural(strips.length - shown, 'more strip')}`} onPress={() => setShown(strips.length)} />
      ) : null}
    </View>
  );
}

interface StripPicksProps {
  readonly profile: Profile;
  readonly names: State;
  readonly name: string;
  readonly cells: readonly CellDifference[];
  readonly letterOf: (cell: CellDifference) => string;
  readonly isTaken: (cell: CellDifference) => boolean;
  readonly onTake: (cells: readonly CellDifference[]) => void;
}

function StripPicks({ profile, names, name, cells, letterOf, isTaken, onTake }: StripPicksProps) {
  const look = useLook();
  const all = cells.every(isTaken);
  return (
    <View style={[styles.strip, { borderColor: look.line }]} testID={`picks-${cells[0]?.strip ?? ''}`}>
      <View style={styles.head}>
        <NameLines
          name={name}
          under={cells[0] && `${sectionName(cells[0].section)} · ${describeDifference(profile, names, cells[0])}`}
          lines={2}
        />
        <Chip toggle title="All" chosen={all} onPress={() => onTake(cells)} />
      </View>
      <View style={styles.cells}>
        {cells.map((cell) => {
          const taken = isTaken(cell);
          const letter = letterOf(cell);
          return (
            <Pressable
              key={cell.section}
              role="checkbox"
              aria-checked={taken}
              aria-label={`${name}, ${sectionName(cell.section)}: ${describeDifference(profile, names, cell)}`}
              testID={`pick-${cellOf(cell)}`}
              onPress={() => onTake([cell])}
              style={[
                styles.cell,
                { borderColor: taken ? look.b : look.line, backgroundColor: taken ? look.b : look.card },
              ]}
            >
              <AppText tone={taken ? 'paper' : 'ink'}>{sectionName(cell.section)}</AppText>
              <AppText kind="value" tone={taken ? 'paper' : 'second'}>
                {letter}
              </AppText>
            </Pressable>
          );
        })}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: SPACE.s },
  groups: { gap: SPACE.s, paddingVertical: SPACE.xs },
  strip: { borderBottomWidth: 1, paddingBottom: SPACE.m, paddingTop: SPACE.xs, gap: SPACE.s },
  head: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  cells: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
  cell: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    minHeight: TOUCH,
    paddingHorizontal: SPACE.m,
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
});
