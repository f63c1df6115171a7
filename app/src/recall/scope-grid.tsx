import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { memo, useCallback, useMemo, useRef } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { sectionName, shortSectionName } from '@old-echo/core/phrases/format-value';
import type { CompiledScope } from '@old-echo/core/recall/compile-scope';
import {
  choosableSections,
  choosableStrips,
  isSelected,
  type ScopeSelection,
  setCells,
} from '@old-echo/core/recall/scope-selection';

import { findStrips } from '../components/strip-picker-sheet';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';
import { elementOf, webStyle } from '../ui/web-only';
import { checkState, exceptionsOf } from './strip-check-state';
import type { Plan } from './use-recall-plan';

interface ScopeGridProps {
  readonly now: LiveDesk;
  readonly profile: Profile;
  readonly compiled: CompiledScope;
  readonly choice: ScopeSelection;
  /** Changes what is chosen, whatever that is by then: the grid is drawn a moment after the sentence. */
  readonly onChange: (change: (choice: ScopeSelection) => ScopeSelection) => void;
  readonly onStrip: (strip: string) => void;
  readonly plan: Plan | undefined;
  /** Shows only the strips whose names hold it. */
  readonly search: string;
}

/** How a cell is drawn: what differs is large, what comes back is solid. */
type CellLook = 'missing' | 'safe' | 'solid' | 'solid-small' | 'hollow' | 'hollow-small' | 'partly';

/** All strips and sections at once: cells are painted by dragging, rows and columns by their heads. */
export const ScopeGrid = memo(function ScopeGrid(props: ScopeGridProps) {
  const { now, profile, compiled, choice, onChange, onStrip, plan, search } = props;
  const { state } = now;
  const sections = useMemo(() => choosableSections(profile), [profile]);
  const all = useMemo(() => choosableStrips(profile), [profile]);
  const strips = search === '' ? all : findStrips(now, search).filter((strip) => all.includes(strip));
  const brush = useRef<{ include: boolean; seen: Set<string> } | null>(null);
  const differing = useMemo(() => {
    const all = [...(plan?.preview.changes ?? []), ...(plan?.preview.stays ?? [])];
    return new Set(all.map(({ strip, section }) => `${strip}/${section}`));
  }, [plan]);
  const exceptions = useMemo(() => exceptionsOf(choice), [choice]);
  const single = useMemo(
    () => new Set([...choice.settings.keys()].map((address) => address.split('/').slice(0, 2).join('/'))),
    [choice],
  );
  const lookOf = (strip: string, section: string): CellLook => {
    const fate = compiled.cells[strip]?.[section];
    if (fate === undefined) return 'missing';
    if (fate === 'safe') return 'safe';
    const cell = `${strip}/${section}`;
    if (single.has(cell)) return 'partly';
    const look = fate === 'comes back' ? 'solid' : 'hollow';
    return differing.has(cell) ? look : (`${look}-small` as const);
  };
  const cellAt = (x: number, y: number): string | undefined =>
    elementOf(document.elementFromPoint(x, y)?.closest('[data-cell]'))?.dataset['cell'];
  const stroke = (cell: string | undefined) => {
    const [strip, section] = cell?.split('/') ?? [];
    if (!brush.current || !cell || !strip || !section || brush.current.seen.has(cell)) return;
    const { seen, include } = brush.current;
    seen.add(cell);
    onChange((chosen) => setCells(profile, chosen, [strip], [section], include));
  };
  const pointer = {
    onPointerDown: (event: PointerLike) => {
      const { clientX, clientY } = event.nativeEvent;
      const cell = cellAt(clientX, clientY);
      const [strip, section] = cell?.split('/') ?? [];
      if (!strip || !section) return;
      event.preventDefault();
      brush.current = { include: !isSelected(choice, strip, section), seen: new Set() };
      stroke(cell);
    },
    onPointerMove: (event: PointerLike) => stroke(cellAt(event.nativeEvent.clientX, event.nativeEvent.clientY)),
    onPointerUp: () => (brush.current = null),
    onPointerLeave: () => (brush.current = null),
  };
  const column = (section: string) => {
    const own = strips.filter((strip) => stripFamily(profile, strip)?.sections.includes(section));
    onChange((chosen) =>
      setCells(profile, chosen, own, [section], !own.every((strip) => isSelected(chosen, strip, section))),
    );
  };
  const row = useCallback(
    (strip: string) => {
      const own = stripFamily(profile, strip)?.sections.filter((section) => sections.includes(section)) ?? [];
      onChange((chosen) =>
        setCells(profile, chosen, [strip], own, !own.every((section) => isSelected(chosen, strip, section))),
      );
    },
    [profile, sections, onChange],
  );
  return (
    <View style={styles.grid} testID="scope-grid">
      <AppText kind="small" tone="second">
        Drag to paint; a name sets its row, a heading its column. Large dots differ.
      </AppText>
      <View style={styles.heads}>
        <View style={styles.corner} />
        {sections.map((section) => (
          <Pressable
            key={section}
            role="button"
            aria-label={`${sectionName(section)} on every strip`}
            onPress={() => column(section)}
            style={styles.head}
          >
            <AppText kind="small" tone={choice.sections.has(section) ? 'ink' : 'second'} style={SIDEWAYS}>
              {shortSectionName(section)}
            </AppText>
          </Pressable>
        ))}
      </View>
      <View {...pointer} style={NO_SCROLL}>
        {strips.map((strip) => (
          <Row
            key={strip}
            strip={strip}
            name={displayName(profile, state, strip)}
            looks={sections.map((section) => lookOf(strip, section)).join(' ')}
            sections={sections}
            tick={checkState(profile, choice, strip, exceptions)}
            onRow={row}
            onStrip={onStrip}
          />
        ))}
      </View>
    </View>
  );
});

interface PointerLike {
  readonly nativeEvent: { readonly clientX: number; readonly clientY: number };
  readonly preventDefault: () => void;
}

interface RowProps {
  readonly strip: string;
  readonly name: string;
  /** How its cells are drawn, as one word each: a row is drawn anew only when one of them changes. */
  readonly looks: string;
  readonly sections: readonly string[];
  readonly tick: 'all' | 'some' | 'none';
  readonly onStrip: (strip: string) => void;
  readonly onRow: (strip: string) => void;
}

const Row = memo(function Row({ strip, name, looks, sections, tick, onStrip, onRow }: RowProps) {
  const look = useLook();
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <Pressable
        role="checkbox"
        aria-checked={tick === 'some' ? 'mixed' : tick === 'all'}
        aria-label={`All of ${name}`}
        onPress={() => onRow(strip)}
        style={styles.name}
      >
        <AppText kind="small" tone={tick === 'none' ? 'second' : 'ink'} numberOfLines={1}>
          {name}
        </AppText>
      </Pressable>
      <Pressable
        role="button"
        aria-label={`Recall scope of ${name}`}
        onPress={() => onStrip(strip)}
        style={styles.more}
      >
        <Icon of={ChevronRight} size={16} color={look.second} />
      </Pressable>
      {looksOf(looks).map((cell, i) => (
        <View
          key={sections[i]}
          style={styles.cell}
          {...(cell === 'missing' || cell === 'safe' ? {} : { dataSet: { cell: `${strip}/${sections[i]}` } })}
          {...(cell === 'missing'
            ? {}
            : { role: 'img', 'aria-label': `${name}, ${sectionName(sections[i] ?? '')}: ${SAID[cell]}` })}
        >
          <Cell cell={cell} />
        </View>
      ))}
    </View>
  );
});

/** The looks of a row, which are handed on as one text so that a row that stays the same is not drawn again. */
const looksOf = (looks: string) => looks.split(' ') as CellLook[];

const SAID: Readonly<Record<CellLook, string>> = {
  missing: '',
  safe: 'safe',
  solid: 'comes back',
  'solid-small': 'comes back, nothing differs',
  hollow: 'stays',
  'hollow-small': 'stays, nothing differs',
  partly: 'comes back in part',
};

function Cell({ cell }: { readonly cell: CellLook }) {
  const look = useLook();
  if (cell === 'missing') return null;
  if (cell === 'safe') return <View style={[styles.safe, { backgroundColor: look.stop }]} />;
  const solid = cell.startsWith('solid') || cell === 'partly';
  return (
    <View
      style={[
        cell.endsWith('small') ? styles.small : styles.large,
        solid ? { backgroundColor: look.ink } : { borderWidth: 1.5, borderColor: look.echo, borderStyle: 'dashed' },
        cell === 'partly' && styles.partly,
      ]}
    />
  );
}

const SIDEWAYS = { writingMode: 'vertical-rl', transform: [{ rotate: '180deg' }] } as object;
const NO_SCROLL = webStyle({ cursor: 'cell', userSelect: 'none' });
const CELL = 24;

const styles = StyleSheet.create({
  grid: { gap: SPACE.xs },
  heads: { flexDirection: 'row', alignItems: 'flex-end' },
  corner: { width: 104 + CELL },
  head: {
    flex: 1,
    minWidth: CELL,
    minHeight: 64,
    alignItems: 'center',
    justifyContent: 'flex-end',
    paddingBottom: SPACE.xs,
  },
  row: { flexDirection: 'row', alignItems: 'center', borderTopWidth: 1 },
  more: { width: CELL, height: CELL, alignItems: 'center', justifyContent: 'center' },
  name: { width: 104, minHeight: CELL, justifyContent: 'center' },
  cell: { flex: 1, minWidth: CELL, height: CELL, alignItems: 'center', justifyContent: 'center' },
  large: { width: 16, height: 16, borderRadius: 8 },
  small: { width: 8, height: 8, borderRadius: 4 },
  partly: { borderTopLeftRadius: 0, borderBottomRightRadius: 0, width: 12, height: 12 },
  safe: { width: 14, height: 3, transform: [{ rotate: '-45deg' }] },
});
