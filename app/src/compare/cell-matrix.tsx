import { memo } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { CellDifference } from '@old-echo/core/compare/compare';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { displayName, type State } from '@old-echo/core/desk/state';
import { describeDifference } from '@old-echo/core/phrases/describe-comparison';
import { sectionName, shortSectionName } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { CORNER, SPACE } from '../ui/tokens';

interface CellPictureProps {
  readonly profile: Profile;
  readonly names: State;
  readonly cells: readonly CellDifference[];
  /** The strips drawn as rows. */
  readonly strips: readonly string[];
  /** Whether sections without a difference have a column too. */
  readonly allSections: boolean;
  /** The cell that is looked at: `in.3/eq`. */
  readonly chosen: string | null;
  readonly onChoose: (cell: string) => void;
}

/** From this many columns on their names stand upright. */
const UPRIGHT = 8;

/**
 * Strips down, sections across: how much one would hear of what differs, and on which side there is more. A disc: more in B;
 * a ring: more in A; a diamond: neither; small: hardly heard.
 */
export const CellMatrix = memo(function CellPicture(props: CellPictureProps) {
  const { profile, names, cells, strips, allSections, chosen, onChoose } = props;
  const used = new Set(cells.map(({ section }) => section));
  const had = new Set(strips.flatMap((strip) => stripFamily(profile, strip)?.sections ?? []));
  const sections = SECTIONS.filter((section) => used.has(section) || (allSections && had.has(section)));
  const byCell = new Map(cells.map((cell) => [`${cell.strip}/${cell.section}`, cell]));
  const upright = sections.length >= UPRIGHT;
  return (
    <View testID="cell-picture">
      <View style={styles.row}>
        <View style={styles.name} />
        {sections.map((section) => (
          <View key={section} style={[styles.head, upright && styles.tall]}>
            <AppText kind="small" tone="second" numberOfLines={1} style={upright ? SIDEWAYS : null}>
              {shortSectionName(section)}
            </AppText>
          </View>
        ))}
      </View>
      {strips.map((strip) => (
        <Row
          key={strip}
          profile={profile}
          names={names}
          strip={strip}
          name={displayName(profile, names, strip)}
          cells={sections.map((section) => byCell.get(`${strip}/${section}`))}
          chosen={chosen?.startsWith(`${strip}/`) ? chosen.slice(strip.length + 1) : null}
          onChoose={onChoose}
        />
      ))}
    </View>
  );
});

interface RowProps {
  readonly profile: Profile;
  readonly names: State;
  readonly strip: string;
  readonly name: string;
  readonly cells: readonly (CellDifference | undefined)[];
  readonly chosen: string | null;
  readonly onChoose: (cell: string) => void;
}

function Row({ profile, names, strip, name, cells, chosen, onChoose }: RowProps) {
  const look = useLook();
  const most = cells.reduce((a, b) => ((b?.heard ?? -1) > (a?.heard ?? -1) ? b : a), undefined);
  return (
    <View style={[styles.row, chosen !== null && { backgroundColor: look.wash }]}>
      <Pressable
        role="button"
        disabled={!most}
        aria-label={most ? `${name}, most of it ${sectionName(most.section)}` : `${name}, the same`}
        onPress={() => most && onChoose(`${strip}/${most.section}`)}
        style={styles.name}
      >
        <AppText kind="strong" tone={most ? 'ink' : 'second'} numberOfLines={1}>
          {name}
        </AppText>
      </Pressable>
      {cells.map((cell, i) =>
        cell ? (
          <Pressable
            key={cell.section}
            role="button"
            testID={`cell-${strip}/${cell.section}`}
            aria-label={`${name}, ${sectionName(cell.section)}: ${describeDifference(profile, names, cell)}`}
            onPress={() => onChoose(`${strip}/${cell.section}`)}
            style={[styles.cell, chosen === cell.section && { backgroundColor: look.card, borderColor: look.ink }]}
          >
            <Dot cell={cell} />
          </Pressable>
        ) : (
          <View key={i} style={styles.cell}>
            <View style={[styles.none, { backgroundColor: look.line }]} />
          </View>
        ),
      )}
    </View>
  );
}

/** The largest dot is drawn from this much on, in dB. */
const LARGEST = 20;

function Dot({ cell: { heard, audible, higher } }: { readonly cell: CellDifference }) {
  const look = useLook();
  const size = audible ? Math.round(9 + 13 * Math.sqrt(Math.min(1, heard / LARGEST))) : 7;
  const colour = higher === 'A' ? look.a : higher === 'B' ? look.b : look.second;
  const shape = { width: size, height: size };
  if (higher === 'A')
    return <View style={[shape, { borderRadius: size, borderWidth: Math.max(2, size / 4.5), borderColor: colour }]} />;
  if (higher === 'B') return <View style={[shape, { borderRadius: size, backgroundColor: colour }]} />;
  return <View style={[shape, styles.diamond, { backgroundColor: colour }]} />;
}

const SIDEWAYS = { writingMode: 'vertical-rl', transform: [{ rotate: '180deg' }] };

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'stretch', borderRadius: CORNER.small },
  name: { width: 104, minHeight: 32, justifyContent: 'center', paddingLeft: SPACE.xs },
  head: { flex: 1, minWidth: 0, alignItems: 'center', justifyContent: 'flex-end', paddingBottom: SPACE.xs },
  tall: { height: 76 },
  cell: {
    flex: 1,
    minWidth: 0,
    minHeight: 32,
    alignItems: 'center',
    justifyContent: 'center',
    borderWidth: 1,
    borderColor: 'transparent',
    borderRadius: CORNER.small,
  },
  none: { width: 3, height: 3, borderRadius: 2 },
  diamond: { transform: [{ rotate: '45deg' }, { scale: 0.8 }] },
});
