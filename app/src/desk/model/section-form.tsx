import { useId, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { withField, withSection } from '@old-echo/core/desk/edit-profile';
import type { FamilySource } from '@old-echo/core/desk/profile-source';
import { isList, isRecord } from '@old-echo/core/fault/is-record';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';
import { settingPatternName } from '@old-echo/core/phrases/setting-pattern-name';

import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { Field } from '../../ui/field';
import { NameLines } from '../../ui/name-lines';
import { useLook } from '../../ui/theme';
import { ROW, SPACE } from '../../ui/tokens';
import { typedNumber } from '../../ui/typed-number';
import type { ModelDraft } from './use-model-draft';

interface SectionFormProps {
  readonly draft: ModelDraft;
  readonly family: FamilySource;
  readonly section: string;
}

/** A section of a family: a line, and opened its settings with their ranges. */
export function SectionForm({ draft, family, section }: SectionFormProps) {
  const look = useLook();
  const [open, setOpen] = useState(false);
  const underId = useId();
  const settings = Object.entries(family.sections[section] ?? {});
  const ones = Object.fromEntries(draft.source.families.map(({ id, one }) => [id, one]));
  return (
    <View style={{ borderBottomWidth: 1, borderColor: look.line }}>
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={sectionName(section)}
        aria-describedby={underId}
        onPress={() => setOpen(!open)}
        style={styles.row}
      >
        <NameLines name={sectionName(section)} under={plural(settings.length, 'setting')} underId={underId} />
        <AppText tone="second">{open ? '⌃' : '⌄'}</AppText>
      </Pressable>
      {open ? (
        <View style={styles.settings}>
          {settings.map(([pattern, spec]) => (
            <SettingForm
              key={pattern}
              name={settingPatternName(section, pattern, ones)}
              spec={isRecord(spec) ? spec : {}}
              onField={(field, value) => draft.set(withField(draft.source, family, [section, pattern, field], value))}
            />
          ))}
          <Action
            kind="quiet"
            title={`Take out ${sectionName(section)}`}
            disabled={Object.keys(family.sections).length === 1 && 'Strips have one section at least.'}
            onPress={() => draft.set(withSection(draft.source, family, section, undefined))}
          />
        </View>
      ) : null}
    </View>
  );
}

/** Fields of a setting that are numbers, and how they are called beside one another. */
const NUMBERS: readonly (readonly [field: string, name: string])[] = [
  ['min', 'From'],
  ['max', 'to'],
  ['step', 'in steps of'],
  ['longest', 'Longest'],
];

interface SettingFormProps {
  readonly name: string;
  readonly spec: Readonly<Record<string, unknown>>;
  readonly onField: (field: string, value: unknown) => void;
}

/** What one setting takes, as far as its model says so in this place. */
function SettingForm({ name, spec, onField }: SettingFormProps) {
  const numbers = NUMBERS.filter(([field]) => field in spec);
  const { options, unit } = spec;
  return (
    <View style={styles.setting}>
      <AppText>
        {spec['kind'] !== 'switch' ? name : name === 'On' ? 'On or off' : `${name}: on or off`}
        {typeof unit === 'string' ? ` (${unit})` : ''}
      </AppText>
      {numbers.length > 0 ? (
        <View style={styles.fields}>
          {numbers.map(([field, label]) => (
            <View key={field} style={styles.fill}>
              <Field
                label={label}
                value={shown(spec[field])}
                onChangeText={(text) => onField(field, typedNumber(text))}
                testID={`${name} ${field}`}
              />
            </View>
          ))}
        </View>
      ) : null}
      {isList(options) ? (
        <Field
          label="One of, with commas between"
          value={options.join(', ')}
          onChangeText={(text) => onField('options', text.split(/, ?/))}
        />
      ) : null}
      {['number', 'string'].includes(typeof spec['default']) ? (
        <Field
          label="At first"
          value={shown(spec['default'])}
          onChangeText={(text) => onField('default', isText(spec) ? text : typedNumber(text))}
        />
      ) : null}
    </View>
  );
}

const shown = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

/** Whether the values of a setting are words, where its default may look like a number. */
const isText = ({ kind }: Readonly<Record<string, unknown>>): boolean =>
  kind === 'text' || kind === 'choice' || kind === 'reference';

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.m, minHeight: ROW },
  settings: { gap: SPACE.m, paddingBottom: SPACE.m },
  setting: { gap: SPACE.xs },
  fields: { flexDirection: 'row', gap: SPACE.s },
});
