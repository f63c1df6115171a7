import { useLocalSearchParams, useRouter } from 'expo-router';
import { useId, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { freeProfileId, withNewFamily, withoutDeadRules } from '@old-echo/core/desk/edit-profile';
import { FAMILY_IDS, type FamilySource } from '@old-echo/core/desk/profile-source';
import { MAX_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { FaultBelow } from '../../components/fault-card';
import { KeptDraft } from '../../components/kept-draft';
import { Loading } from '../../components/loading';
import { useAddProfileMutation, useProfilesQuery } from '../../store/desk-api';
import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { AppText } from '../../ui/app-text';
import { Action, Chip, Footer } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Field } from '../../ui/field';
import { Body, Header, SectionHeading } from '../../ui/layout';
import { NameLines } from '../../ui/name-lines';
import { useLook } from '../../ui/theme';
import { MAX_TEXT_WIDTH, ROW, SPACE } from '../../ui/tokens';
import { useShortcuts } from '../../ui/use-shortcuts';
import { ChangeSheet } from './change-sheet';
import { FamilySheet } from './family-sheet';
import { ModelFault } from './model-fault';
import { modelHref } from './model-href';
import { type ModelDraft, useModelDraft } from './use-model-draft';

/** What a model of desk has, as a form: of one that is here, or of a copy of one. */
export function ModelScreen() {
  const { model, copy } = useLocalSearchParams<{ model: string; copy?: string }>();
  const draft = useModelDraft(model, copy !== undefined);
  if (!draft) return <Loading what="Loading the model" />;
  return <ModelForm model={model} draft={draft} />;
}

function ModelForm({ model, draft }: { readonly model: string; readonly draft: ModelDraft }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { source, profile, isCopy } = draft;
  const { data: models = [] } = useProfilesQuery();
  const [add, adding] = useAddProfileMutation();
  const [open, setOpen] = useState<'family' | 'change' | null>(null);
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/settings'));
  useShortcuts({ Escape: back });
  const rename = (name: string) => {
    const others = models.map(({ id }) => id);
    draft.set({ ...source, name, ...(isCopy ? { id: freeProfileId(name, others) } : {}) });
  };
  const save = async () => {
    const { data } = await add(withoutDeadRules(source));
    if (!data) return;
    draft.forget();
    dispatch(noticed(`${data.name} is a model now. A desk of it can be added.`));
    back();
  };
  const whyNot =
    source.name.trim() === ''
      ? 'It needs a name.'
      : typeof profile === 'string'
        ? profile
        : !isCopy && !draft.isChanged && 'Nothing has changed.';
  return (
    <View style={styles.fill}>
      <Header over={isCopy ? 'A copy to change' : 'Model'} title={source.name} onBack={back} />
      <Body>
        <View style={styles.column}>
          <KeptDraft draft={draft} />
          <Field
            label="Name"
            value={source.name}
            onChangeText={rename}
            maxLength={MAX_NAME_LENGTH}
            testID="model-name"
          />
          <ChipRow role="tablist" aria-label="What it is made for">
            <Chip
              title="Studio"
              chosen={source.use === 'studio'}
              onPress={() => draft.set({ ...source, use: 'studio' })}
            />
            <Chip title="Live" chosen={source.use === 'live'} onPress={() => draft.set({ ...source, use: 'live' })} />
          </ChipRow>
          <ModelFault profile={profile} />
          <View>
            <SectionHeading title={typeof profile === 'string' ? 'Strips' : plural(profile.strips.length, 'strip')} />
            {source.families.map((family) => (
              <FamilyRow
                key={family.id}
                family={family}
                onPress={() => router.navigate(modelHref(model, { family: family.id, isCopy }))}
              />
            ))}
          </View>
          <Action
            title="Add strips …"
            disabled={unusedFamilies(source.families).length === 0 && 'It has all there are.'}
            onPress={() => setOpen('family')}
          />
        </View>
      </Body>
      <FaultBelow error={adding.error} />
      <Footer>
        <Action
          kind="main"
          grow
          title={isCopy ? 'Add model' : 'What it means …'}
          busy={adding.isLoading}
          disabled={whyNot}
          onPress={() => (isCopy ? void save() : setOpen('change'))}
        />
        <Action title="Cancel" onPress={back} />
      </Footer>
      {open === 'family' ? (
        <FamilySheet
          missing={unusedFamilies(source.families)}
          onClose={() => setOpen(null)}
          onChoose={(family) => {
            setOpen(null);
            draft.set(withNewFamily(source, family, FAMILY_IDS));
            router.navigate(modelHref(model, { family: family.id, isCopy }));
          }}
        />
      ) : null}
      {open === 'change' && typeof profile !== 'string' ? (
        <ChangeSheet draft={draft} profile={profile} onClose={() => setOpen(null)} onDone={back} />
      ) : null}
    </View>
  );
}

const unusedFamilies = (families: readonly FamilySource[]): string[] =>
  FAMILY_IDS.filter((id) => !families.some((family) => family.id === id));

function FamilyRow({ family, onPress }: { readonly family: FamilySource; readonly onPress: () => void }) {
  const look = useLook();
  const underId = useId();
  const sections = Object.keys(family.sections).map(sectionName);
  const under = [...(family.manual ? ['Turned by hand'] : []), ...sections].join(', ');
  return (
    <Pressable
      role="button"
      aria-label={`${family.name}: ${plural(family.count, 'strip')}`}
      aria-describedby={underId}
      onPress={onPress}
      style={[styles.row, { borderColor: look.line }]}
    >
      <NameLines name={family.name} under={under} lines={2} underId={underId} />
      <AppText kind="value">{family.count} ›</AppText>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.m,
    minHeight: ROW,
    paddingVertical: SPACE.s,
    borderBottomWidth: 1,
  },
});
