import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { withFamily, withoutFamily, withSection } from '@old-echo/core/desk/edit-profile';
import { type FamilySource, GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { MAX_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { CheckRow } from '../../components/check-row';
import { Loading } from '../../components/loading';
import { Action, MainAction } from '../../ui/buttons';
import { Field } from '../../ui/field';
import { Body, Empty, Header, SectionHeading } from '../../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../../ui/tokens';
import { typedNumber } from '../../ui/typed-number';
import { useShortcuts } from '../../ui/use-shortcuts';
import { ModelFault } from './model-fault';
import { modelHref } from './model-href';
import { SectionForm } from './section-form';
import { SectionSheet } from './section-sheet';
import { type ModelDraft, useModelDraft } from './use-model-draft';

/** The strips of one family of a model: how many there are, what they are called, and what each of them has. */
export function FamilyScreen() {
  const { model, family: id, copy } = useLocalSearchParams<{ model: string; family: string; copy?: string }>();
  const router = useRouter();
  const draft = useModelDraft(model, copy !== undefined);
  const back = () =>
    router.canGoBack() ? router.back() : router.replace(modelHref(model, { isCopy: copy !== undefined }));
  if (!draft) return <Loading what="Loading the model" />;
  const family = draft.source.families.find((one) => one.id === id);
  if (!family)
    return (
      <View style={styles.fill}>
        <Header over={draft.source.name} title="No such strips" onBack={back} />
        <Empty title="The model has none of these">Add them in the list of its strips.</Empty>
      </View>
    );
  return <FamilyForm draft={draft} family={family} onBack={back} />;
}

interface FamilyFormProps {
  readonly draft: ModelDraft;
  readonly family: FamilySource;
  readonly onBack: () => void;
}

function FamilyForm({ draft, family, onBack }: FamilyFormProps) {
  const { source, profile } = draft;
  const [adding, setAdding] = useState(false);
  // A number that is typed only in part is in the draft as it is, and whoever reads the draft says so.
  const set = (change: Partial<FamilySource>) => draft.set(withFamily(source, family.id, change));
  useShortcuts({ Escape: onBack });
  return (
    <View style={styles.fill}>
      <Header over={source.name} title={family.name || 'Strips'} onBack={onBack} />
      <Body>
        <View style={styles.column}>
          <ModelFault profile={profile} />
          <View style={styles.fields}>
            <View style={styles.fill}>
              <Field
                label="All of them"
                value={family.name}
                onChangeText={(name) => set({ name })}
                maxLength={MAX_NAME_LENGTH}
              />
            </View>
            <View style={styles.fill}>
              <Field
                label="One of them"
                value={family.one}
                onChangeText={(one) => set({ one })}
                maxLength={MAX_NAME_LENGTH}
              />
            </View>
          </View>
          {family.id === GLOBAL_FAMILY ? null : (
            <Field
              label="How many"
              value={String(family.count)}
              onChangeText={(text) => set({ count: typedNumber(text) as number })}
              testID="family-count"
            />
          )}
          <CheckRow
            name="Turned by hand"
            under="No wire leads there: people say where the controls stand."
            tick={family.manual ? 'all' : 'none'}
            testID="family-manual"
            onPress={() => set({ manual: !family.manual })}
          />
          <View>
            <SectionHeading title="Sections" />
            {Object.keys(family.sections).map((section) => (
              <SectionForm key={section} draft={draft} family={family} section={section} />
            ))}
          </View>
          <Action title="Add a section …" onPress={() => setAdding(true)} />
          <Action
            kind="quiet"
            title={`Take out ${family.name}`}
            disabled={source.families.length === 1 && 'A model has strips of one kind at least.'}
            onPress={() => {
              onBack();
              draft.set(withoutFamily(source, family.id));
            }}
          />
        </View>
      </Body>
      <MainAction title="Done" onPress={onBack} />
      {adding ? (
        <SectionSheet
          family={family}
          onClose={() => setAdding(false)}
          onChoose={(section, settings) => {
            setAdding(false);
            draft.set(withSection(source, family, section, settings));
          }}
        />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  fields: { flexDirection: 'row', gap: SPACE.s },
});
