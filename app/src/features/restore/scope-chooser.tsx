import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import Square from 'lucide-react-native/icons/square';
import SquareCheck from 'lucide-react-native/icons/square-check';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import SquareMinus from 'lucide-react-native/icons/square-minus';
import Shield from 'lucide-react-native/icons/shield';

import { GLOBAL_FAMILY, type Family } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';
import { sectionName } from '@old-echo/core/desk/wording';
import { choosableSections, choosableStrips, type Choice } from '@old-echo/core/scope/choice';
import { safeStrips, type CompiledScope } from '@old-echo/core/scope/compile';

import type { DeskNow } from '../../live/use-desk';
import { Action, Chip } from '../../ui/actions';
import { Icon } from '../../ui/icon';
import { SearchField } from '../../ui/search-field';
import { useLook } from '../../ui/theme';
import { ROW, SPACE, TOUCH } from '../../ui/tokens';
import { Words } from '../../ui/words';
import type { Plan } from './use-plan';

interface ScopeChooserProps {
  readonly now: DeskNow;
  readonly compiled: CompiledScope;
  readonly choice: Choice;
  readonly onChoose: (choice: Choice) => void;
  /** Back to what is saved with the scene. */
  readonly onSaved: () => void;
  readonly plan: Plan | undefined;
}

/** Sections as chips and strips by family, with all, some and none. */
export function ScopeChooser({ now, compiled, choice, onChoose, onSaved, plan }: ScopeChooserProps) {
  const { profile, state } = now;
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const sections = choosableSections(profile);
  const safe = new Set(safeStrips(compiled));
  const pick = (part: Partial<Choice>) => onChoose({ ...choice, ...part });
  const toggleStrips = (strips: readonly string[], on: boolean) => {
    const next = new Set(choice.strips);
    for (const strip of strips)
      if (on) next.add(strip);
      else next.delete(strip);
    pick({ strips: next });
  };
  const differing = new Set(
    [...(plan?.preview.changes ?? []), ...(plan?.preview.stays ?? [])].map((change) => change.strip),
  );
  const wanted = search.trim().toLowerCase();
  const found = (strip: string) =>
    `${stripName(profile, state, strip)} ${profile.plainNames[strip]}`.toLowerCase().includes(wanted);
  const families = profile.families.filter((family) => family.id !== GLOBAL_FAMILY);

  return (
    <ScrollView style={styles.fill} contentContainerStyle={styles.body}>
      <View style={styles.titleRow}>
        <Words kind="heading" style={styles.fill}>
          Sections
        </Words>
        <Action kind="quiet" title="All" onPress={() => pick({ sections: new Set(sections) })} />
        <Action kind="quiet" title="None" onPress={() => pick({ sections: new Set() })} />
        <Action kind="quiet" title="As saved" onPress={onSaved} />
      </View>
      <View style={styles.chips}>
        {sections.map((section) => (
          <Chip
            key={section}
            toggle
            title={sectionName(section)}
            chosen={choice.sections.has(section)}
            onPress={() => {
              const next = new Set(choice.sections);
              if (!next.delete(section)) next.add(section);
              pick({ sections: next });
            }}
          />
        ))}
      </View>
      <View style={styles.titleRow}>
        <Words kind="heading" style={styles.fill}>
          Strips
        </Words>
        <Action kind="quiet" title="All" onPress={() => pick({ strips: new Set(choosableStrips(profile)) })} />
        <Action kind="quiet" title="None" onPress={() => pick({ strips: new Set() })} />
        <Action
          kind="quiet"
          title="Differing"
          disabled={differing.size === 0}
          onPress={() => pick({ strips: new Set([...differing].filter((s) => !s.startsWith(GLOBAL_FAMILY))) })}
        />
      </View>
      <SearchField
        placeholder={`Search ${choosableStrips(profile).length} strips`}
        value={search}
        onChange={setSearch}
      />
      {families.map((family) => {
        const strips = wanted ? family.strips.filter(found) : family.strips;
        if (strips.length === 0) return null;
        const expanded = wanted !== '' || open.has(family.id);
        return (
          <View key={family.id}>
            <FamilyRow
              family={family}
              chosen={family.strips.filter((strip) => choice.strips.has(strip)).length}
              safe={family.strips.filter((strip) => safe.has(strip)).length}
              names={family.strips
                .filter((strip) => choice.strips.has(strip))
                .map((strip) => stripName(profile, state, strip))}
              expanded={expanded}
              onToggle={(on) => toggleStrips(strips, on)}
              onExpand={() => {
                const next = new Set(open);
                if (!next.delete(family.id)) next.add(family.id);
                setOpen(next);
              }}
            />
            {expanded
              ? strips.map((strip) => (
                  <TickRow
                    key={strip}
                    name={stripName(profile, state, strip)}
                    under={[profile.plainNames[strip], differing.has(strip) ? 'differs' : '']
                      .filter((w) => w && w !== stripName(profile, state, strip))
                      .join(' · ')}
                    tick={safe.has(strip) ? 'safe' : choice.strips.has(strip) ? 'all' : 'none'}
                    indent
                    testID={`pick-${strip}`}
                    onPress={() => toggleStrips([strip], !choice.strips.has(strip))}
                  />
                ))
              : null}
          </View>
        );
      })}
      <TickRow
        name="Globals"
        under="Monitor, talkback, clock. They come back only when asked for here."
        tick={choice.globals ? 'all' : 'none'}
        testID="pick-globals"
        onPress={() => pick({ globals: !choice.globals })}
      />
    </ScrollView>
  );
}

interface FamilyRowProps {
  readonly family: Family;
  readonly chosen: number;
  readonly safe: number;
  readonly names: readonly string[];
  readonly expanded: boolean;
  readonly onToggle: (on: boolean) => void;
  readonly onExpand: () => void;
}

function FamilyRow({ family, chosen, safe, names, expanded, onToggle, onExpand }: FamilyRowProps) {
  const total = family.strips.length;
  const tick = safe === total ? 'safe' : chosen === total ? 'all' : chosen === 0 ? 'none' : 'some';
  const who = names.length > 1 ? `${names[0]} to ${names.at(-1)}` : names[0];
  const under = [
    tick === 'none' ? 'Stay as they are' : tick === 'safe' ? 'Held safe by the desk' : who,
    safe > 0 && safe < total ? `${safe} safe` : '',
  ]
    .filter(Boolean)
    .join(' · ');
  return (
    <View style={styles.family}>
      <TickRow
        name={family.name}
        under={under}
        tick={tick}
        side={tick === 'safe' ? 'safe' : `${chosen} of ${total}`}
        testID={`pick-${family.id}`}
        onPress={() => onToggle(chosen < total)}
      />
      <Pressable
        role="button"
        aria-expanded={expanded}
        aria-label={`Strips of ${family.name}`}
        onPress={onExpand}
        style={styles.expand}
      >
        <Icon of={expanded ? ChevronDown : ChevronRight} />
      </Pressable>
    </View>
  );
}

const TICKS = {
  all: { icon: SquareCheck, checked: true },
  some: { icon: SquareMinus, checked: 'mixed' },
  none: { icon: Square, checked: false },
  safe: { icon: Shield, checked: false },
} as const;

interface TickRowProps {
  readonly name: string;
  readonly under: string;
  readonly tick: keyof typeof TICKS;
  readonly side?: string;
  readonly indent?: boolean;
  readonly testID: string;
  readonly onPress: () => void;
}

function TickRow({ name, under, tick, side, indent, testID, onPress }: TickRowProps) {
  const look = useLook();
  const { icon, checked } = TICKS[tick];
  const colour = tick === 'safe' ? look.stop : tick === 'none' ? look.echo : look.ink;
  return (
    <Pressable
      role="checkbox"
      aria-checked={checked}
      aria-label={tick === 'safe' ? `${name}, safe` : name}
      disabled={tick === 'safe'}
      testID={testID}
      onPress={onPress}
      style={[styles.tick, { borderColor: look.line }, indent && styles.indent]}
    >
      <Icon of={icon} color={colour} />
      <View style={styles.fill}>
        <Words kind="strong" numberOfLines={1}>
          {name}
        </Words>
        {under ? (
          <Words kind="small" tone="second" numberOfLines={2}>
            {tick === 'safe' && indent ? 'Held safe by the desk' : under}
          </Words>
        ) : null}
      </View>
      {side ? (
        <Words kind="value" tone={tick === 'safe' ? 'stop' : 'second'}>
          {side}
        </Words>
      ) : null}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  body: { padding: SPACE.l, gap: SPACE.s },
  titleRow: { flexDirection: 'row', alignItems: 'center' },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
  family: { flexDirection: 'row', alignItems: 'center' },
  expand: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' },
  tick: {
    flex: 1,
    minHeight: ROW,
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    borderBottomWidth: 1,
    paddingVertical: SPACE.xs,
  },
  indent: { paddingLeft: SPACE.xl },
});
