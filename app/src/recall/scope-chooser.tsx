import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { type ReactNode, useDeferredValue, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';

import { familyOf } from '@old-echo/core/desk/address';
import { withHalves } from '@old-echo/core/desk/linked-pair';
import { type Family, type Profile } from '@old-echo/core/desk/profile';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { displayName } from '@old-echo/core/desk/state';
import { joinWithAnd, plural, sectionName } from '@old-echo/core/phrases/format-value';
import { type CompiledScope, safeStrips } from '@old-echo/core/recall/compile-scope';
import {
  choosableSections,
  choosableStrips,
  globalSections,
  pickGlobals,
  pickSections,
  pickStrips,
  type ScopeSelection,
} from '@old-echo/core/recall/scope-selection';

import { CheckRow } from '../components/check-row';
import { MembersSheet } from '../components/group-members-sheet';
import { findStrips } from '../components/strip-picker-sheet';
import { useAppSelector } from '../store/store';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { IconAction } from '../ui/menu';
import { SearchField } from '../ui/search-field';
import { toggled } from '../ui/toggle-in-set';
import { SPACE } from '../ui/tokens';
import { ScopeGrid } from './scope-grid';
import { SendsSheet } from './send-scope-sheet';
import { checkState, type Exceptions, exceptionsOf, NO_EXCEPTIONS } from './strip-check-state';
import type { Plan } from './use-recall-plan';

interface ScopeChooserProps {
  readonly now: LiveDesk;
  /** What there is to choose from: all of the desk, or the part of it that the scene holds. */
  readonly profile: Profile;
  readonly compiled: CompiledScope;
  readonly choice: ScopeSelection;
  readonly onChoose: (choice: ScopeSelection) => void;
  readonly onChange: (change: (choice: ScopeSelection) => ScopeSelection) => void;
  /** Back to what is saved with the scene. */
  readonly onSaved: () => void;
  /** Opens what comes back of one strip. */
  readonly onStrip: (strip: string) => void;
  readonly plan: Plan | undefined;
  /** In the place of the strips: where one of them is put. */
  readonly onto?: ReactNode;
  /** Shows the grid in the place of chips and rows. */
  readonly grid: boolean;
  /** Below everything: in which way values come back. */
  readonly below: ReactNode;
}

/** Sections as chips and strips by family, with all, some and none. */
export function ScopeChooser(props: ScopeChooserProps) {
  const { now, profile, choice, onChoose, onSaved, onto, grid, below } = props;
  const [sending, setSending] = useState(false);
  const sections = choosableSections(profile);
  const someSends = <Action kind="quiet" title="Choose sends …" onPress={() => setSending(true)} />;
  return (
    <ScrollView style={styles.fill} contentContainerStyle={styles.body}>
      <View style={styles.titleRow}>
        <AppText kind="heading" style={styles.fill}>
          Sections
        </AppText>
        <Action kind="quiet" title="All" onPress={() => onChoose(pickSections(choice, sections, true))} />
        <Action kind="quiet" title="None" onPress={() => onChoose(pickSections(choice, sections, false))} />
        <Action kind="quiet" title="As saved" onPress={onSaved} />
        {grid && choice.sections.has('sends') ? someSends : null}
      </View>
      {grid && !onto ? null : (
        <ChipRow>
          {sections.map((section) => (
            <Chip
              key={section}
              toggle
              title={sectionName(section)}
              chosen={choice.sections.has(section)}
              onPress={() => onChoose(pickSections(choice, [section], !choice.sections.has(section)))}
            />
          ))}
        </ChipRow>
      )}
      {!grid && choice.sections.has('sends') ? <View style={styles.start}>{someSends}</View> : null}
      {onto ?? <Strips {...props} />}
      <GlobalRows {...props} />
      {below}
      <SendsSheet
        profile={profile}
        names={now.state}
        choice={choice}
        onChoose={onChoose}
        open={sending}
        onClose={() => setSending(false)}
      />
    </ScrollView>
  );
}

/** The grid, drawn a moment after the sentence and the number of changes have followed a touch. */
function LaterGrid(props: ScopeChooserProps & { search: string }) {
  const { now, profile, compiled, choice, plan, onChange, onStrip, search } = props;
  const shown = {
    now: useDeferredValue(now),
    profile,
    compiled: useDeferredValue(compiled),
    choice: useDeferredValue(choice),
  };
  return <ScopeGrid {...shown} plan={useDeferredValue(plan)} onChange={onChange} onStrip={onStrip} search={search} />;
}

function Strips(props: ScopeChooserProps) {
  const { now, profile, compiled, choice, onChoose, onStrip, plan, grid } = props;
  const { state, profile: whole } = now;
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const [grouping, setGrouping] = useState(false);
  const selected = useAppSelector((root) => root.selection.strips);
  const exceptions = exceptionsOf(choice);
  const safe = new Set(safeStrips(compiled));
  const all = choosableStrips(profile);
  const only = (strips: readonly string[]) => onChoose(pickStrips(pickStrips(choice, all, false), strips, true));
  const differing = new Set(
    [...(plan?.preview.changes ?? []), ...(plan?.preview.stays ?? [])].map((change) => change.strip),
  );
  const others = (
    <>
      <Action kind="quiet" title={grid ? 'By DCA …' : 'By DCA or group …'} onPress={() => setGrouping(true)} />
      {selected.length > 0 ? (
        <Action kind="quiet" title={`Selected on the desk (${selected.length})`} onPress={() => only(selected)} />
      ) : null}
    </>
  );
  const wanted = search.trim().toLowerCase();
  const named = new Set(findStrips(now, wanted));
  const found = (strip: string) => named.has(strip);
  return (
    <>
      <View style={styles.titleRow}>
        <AppText kind="heading" style={styles.fill}>
          Strips
        </AppText>
        <Action kind="quiet" title="All" onPress={() => onChoose(pickStrips(choice, all, true))} />
        <Action kind="quiet" title="None" onPress={() => onChoose(pickStrips(choice, all, false))} />
        <Action
          kind="quiet"
          title="Only what differs"
          disabled={differing.size === 0 && 'Nothing differs from the desk.'}
          onPress={() => only([...differing].filter((strip) => all.includes(strip)))}
        />
        {grid ? others : null}
      </View>
      {grid ? null : <View style={styles.titleRow}>{others}</View>}
      <SearchField placeholder={`Search ${all.length} strips`} value={search} onChange={setSearch} />
      {grid ? <LaterGrid {...props} search={wanted} /> : null}
      {(grid ? [] : profile.families)
        .filter((family) => family.id !== GLOBAL_FAMILY)
        .map((family) => {
          const strips = wanted ? family.strips.filter(found) : family.strips;
          if (strips.length === 0) return null;
          const expanded = wanted !== '' || open.has(family.id);
          const chosen = family.strips.filter((strip) => choice.strips.has(strip));
          return (
            <View key={family.id}>
              <FamilyRow
                family={family}
                chosen={chosen.length}
                safe={family.strips.filter((strip) => safe.has(strip)).length}
                names={chosen.map((strip) => displayName(profile, state, strip))}
                expanded={expanded}
                onToggle={(on) => onChoose(pickStrips(choice, strips, on))}
                onExpand={() => setOpen(toggled(open, family.id))}
              />
              {expanded
                ? strips.map((strip) => {
                    const tick = safe.has(strip) ? 'safe' : checkState(profile, choice, strip, exceptions);
                    const name = displayName(profile, state, strip);
                    const words = [
                      profile.plainNames[strip],
                      differing.has(strip) ? 'differs' : '',
                      exceptionWords(exceptions.get(strip)),
                    ];
                    return (
                      <CheckRow
                        key={strip}
                        name={name}
                        under={tick === 'safe' ? 'Safe' : words.filter((w) => w && w !== name).join(' · ')}
                        tick={tick}
                        indent
                        testID={`pick-${strip}`}
                        // The halves of a linked pair come back together.
                        onPress={() => onChoose(pickStrips(choice, withHalves(whole, state, [strip]), tick !== 'all'))}
                        more={
                          <IconAction
                            of={ChevronRight}
                            name={`Recall scope of ${name}`}
                            onPress={() => onStrip(strip)}
                          />
                        }
                      />
                    );
                  })
                : null}
            </View>
          );
        })}
      <MembersSheet
        title="Only strips in"
        now={now}
        open={grouping}
        onClose={() => setGrouping(false)}
        onChoose={only}
      />
    </>
  );
}

/** "without 2 sections", "3 settings by themselves". */
function exceptionWords({ left, settings }: Exceptions = NO_EXCEPTIONS): string {
  const single = settings.length;
  return [left > 0 ? `${plural(left, 'section')} left out` : '', single > 0 ? plural(single, 'single setting') : '']
    .filter(Boolean)
    .join(' · ');
}

/** At most so many strips are named. */
const MAX_NAMED = 3;

interface FamilyRowProps {
  readonly family: Family;
  readonly chosen: number;
  readonly safe: number;
  readonly names: readonly string[];
  readonly expanded: boolean;
  readonly onToggle: (on: boolean) => void;
  readonly onExpand: () => void;
}

/** The settings of the whole desk, section by section: none comes back unless it is asked for by its name. */
function GlobalRows({ profile, compiled, choice, onChoose, plan }: ScopeChooserProps) {
  const sections = globalSections(profile);
  if (sections.length === 0) return null;
  const differing = [...(plan?.preview.changes ?? []), ...(plan?.preview.stays ?? [])].filter(
    ({ strip }) => familyOf(strip) === GLOBAL_FAMILY,
  );
  return (
    <View>
      <AppText kind="heading">Globals</AppText>
      <AppText kind="small" tone="second">
        They belong to the whole desk. Restored only if ticked here.
      </AppText>
      {sections.map((section) => {
        const safe = Object.entries(compiled.cells).some(
          ([strip, fates]) => familyOf(strip) === GLOBAL_FAMILY && fates[section] === 'safe',
        );
        const n = differing.filter((change) => change.section === section).length;
        return (
          <CheckRow
            key={section}
            name={sectionName(section)}
            under={
              safe ? 'Safe' : n === 0 ? 'Nothing differs' : `${plural(n, 'setting')} ${n === 1 ? 'differs' : 'differ'}`
            }
            tick={safe ? 'safe' : choice.globals.has(section) ? 'all' : 'none'}
            testID={`pick-globals-${section}`}
            onPress={() => onChoose(pickGlobals(choice, [section], !choice.globals.has(section)))}
          />
        );
      })}
    </View>
  );
}

function FamilyRow({ family, chosen, safe, names, expanded, onToggle, onExpand }: FamilyRowProps) {
  const total = family.strips.length;
  const tick = safe === total ? 'safe' : chosen === total ? 'all' : chosen === 0 ? 'none' : 'some';
  const who =
    names.length > MAX_NAMED
      ? `${names.slice(0, MAX_NAMED).join(', ')} and ${names.length - MAX_NAMED} more`
      : joinWithAnd(names);
  const under = [
    tick === 'none' ? 'Stay as they are' : tick === 'safe' ? 'Safe' : who,
    safe > 0 && safe < total ? `${safe} safe` : '',
  ];
  return (
    <CheckRow
      name={family.name}
      under={under.filter(Boolean).join(' · ')}
      tick={tick}
      side={tick === 'safe' ? 'safe' : `${chosen} of ${total}`}
      testID={`pick-${family.id}`}
      onPress={() => onToggle(chosen < total)}
      more={
        <IconAction of={expanded ? ChevronDown : ChevronRight} name={`Strips of ${family.name}`} onPress={onExpand} />
      }
    />
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  body: { padding: SPACE.l, gap: SPACE.s },
  titleRow: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap' },
  start: { alignItems: 'flex-start' },
});
