import { ScrollView, StyleSheet } from 'react-native';

import type { Comparison } from '@old-echo/core/compare/compare';
import type { Profile } from '@old-echo/core/desk/profile';
import { sectionName } from '@old-echo/core/phrases/format-value';

import { Chip } from '../ui/buttons';
import { SPACE } from '../ui/tokens';

export interface Filter {
  readonly audible: boolean;
  readonly family: string | null;
  readonly section: string | null;
}

/** The differences that pass the filters. */
export const filterCells = (comparison: Comparison | undefined, { audible, family, section }: Filter) =>
  (comparison?.cells ?? []).filter(
    (cell) =>
      (!audible || cell.audible) &&
      (!family || cell.strip.startsWith(`${family}.`)) &&
      (!section || cell.section === section),
  );

interface FiltersProps {
  readonly profile: Profile;
  readonly comparison: Comparison;
  readonly filter: Filter;
  readonly onFilter: (filter: Filter) => void;
}

/** Chooses what of the differences is shown. */
export function Filters({ profile, comparison, filter, onFilter }: FiltersProps) {
  const families = profile.families.filter(({ id }) =>
    comparison.cells.some(({ strip }) => strip.startsWith(`${id}.`)),
  );
  const sections = [...new Set(comparison.cells.map(({ section }) => section))];
  const toggle = (change: Partial<Filter>) => onFilter({ ...filter, ...change });
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.row}>
      <Chip toggle title="Audible only" chosen={filter.audible} onPress={() => toggle({ audible: !filter.audible })} />
      {families.length > 1
        ? families.map(({ id, name }) => (
            <Chip
              key={id}
              toggle
              title={name}
              chosen={filter.family === id}
              onPress={() => toggle({ family: filter.family === id ? null : id })}
            />
          ))
        : null}
      {sections.length > 1
        ? sections.map((section) => (
            <Chip
              key={section}
              toggle
              title={sectionName(section)}
              chosen={filter.section === section}
              onPress={() => toggle({ section: filter.section === section ? null : section })}
            />
          ))
        : null}
    </ScrollView>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s } });
