import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { sectionOf } from '@old-echo/core/desk/address';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { formatValue, plural, sectionName, settingName } from '@old-echo/core/phrases/format-value';
import { type CompiledScope, decisionFor } from '@old-echo/core/recall/compile-scope';
import { isSelected, pickSettings, type ScopeSelection, setCells } from '@old-echo/core/recall/scope-selection';

import { CheckRow } from '../components/check-row';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { IconAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import type { Plan } from './use-recall-plan';

interface StripScopeSheetProps {
  readonly now: LiveDesk;
  readonly profile: Profile;
  readonly strip: string | null;
  readonly compiled: CompiledScope;
  readonly choice: ScopeSelection;
  readonly onChoose: (choice: ScopeSelection) => void;
  readonly plan: Plan | undefined;
  readonly onOnto: (strip: string) => void;
  readonly onClose: () => void;
}

/** What comes back of one strip: its sections, and under each the single settings that differ. */
export function StripScopeSheet(props: StripScopeSheetProps) {
  const { now, profile, strip, choice, onChoose, plan, onOnto, onClose, compiled } = props;
  const [open, setOpen] = useState<string | null>(null);
  const { state } = now;
  const family = strip === null ? undefined : stripFamily(profile, strip);
  if (strip === null || !family) return null;
  const differing = [...(plan?.preview.changes ?? []), ...(plan?.preview.stays ?? [])].filter(
    (change) => change.strip === strip,
  );
  const name = displayName(profile, state, strip);
  // What differs stands on top, so that it is under the thumb.
  const differs = (section: string) => differing.some((change) => change.section === section);
  const held = family.sections.filter((section) => compiled.cells[strip]?.[section] !== undefined);
  const sections = held.sort((a, b) => Number(differs(b)) - Number(differs(a)));
  return (
    <Sheet title={`Recall scope of ${name}`} open onClose={onClose}>
      {sections.map((section) => {
        const own = differing.filter((change) => change.section === section);
        const chosen = isSelected(choice, strip, section);
        const exceptions = [...choice.settings].filter(([address]) =>
          address.startsWith(`${strip}/${section}/`),
        ).length;
        const safe = compiled.cells[strip]?.[section] === 'safe';
        return (
          <View key={section}>
            <CheckRow
              name={sectionName(section)}
              under={
                safe
                  ? 'Safe'
                  : own.length === 0
                    ? 'Nothing differs'
                    : `${plural(own.length, 'setting')} ${own.length === 1 ? 'differs' : 'differ'}`
              }
              tick={safe ? 'safe' : exceptions > 0 ? 'some' : chosen ? 'all' : 'none'}
              testID={`cell-${strip}-${section}`}
              onPress={() => onChoose(setCells(profile, choice, [strip], [section], exceptions > 0 || !chosen))}
              more={
                own.length > 0 && !safe ? (
                  <IconAction
                    of={open === section ? ChevronDown : ChevronRight}
                    name={`Single settings of ${sectionName(section)}`}
                    onPress={() => setOpen(open === section ? null : section)}
                  />
                ) : null
              }
            />
            {open === section
              ? own.map((change) => {
                  const spec = family.settings[change.key];
                  const [from, to] = 'to' in change ? [change.from, change.to] : [change.now, change.scene];
                  const fate = decisionFor(compiled, strip, change.key);
                  const comes = choice.settings.get(change.address) ?? isSelected(choice, strip, sectionOf(change.key));
                  return (
                    <CheckRow
                      key={change.key}
                      indent
                      name={settingName(profile, change.key, state)}
                      under={spec ? `${formatValue(spec, from)} → ${formatValue(spec, to)}` : 'Not on this desk'}
                      tick={fate === 'safe' ? 'safe' : comes ? 'all' : 'none'}
                      testID={`setting-${change.address}`}
                      onPress={() => onChoose(pickSettings(choice, [change.address], !comes))}
                    />
                  );
                })
              : null}
          </View>
        );
      })}
      <View style={styles.foot}>
        <AppText kind="small" tone="second">
          What the scene has on {name} can also be applied to other strips.
        </AppText>
        <Action title="Apply to other strips …" onPress={() => onOnto(strip)} />
        <Action kind="main" title="Done" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ foot: { gap: SPACE.s, paddingTop: SPACE.m } });
