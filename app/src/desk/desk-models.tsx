import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';

import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { isRecord } from '@old-echo/core/fault/is-record';
import { plural } from '@old-echo/core/phrases/format-value';

import { FaultBelow } from '../components/fault-card';
import { toApiFault } from '../store/api';
import { useAddProfileMutation, useProfilesQuery } from '../store/desk-api';
import { drafted } from '../store/draft-slice';
import { useAppDispatch } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';
import { Option } from '../ui/option';
import { modelHref } from './model/model-href';
import { modelForm, NO_CHANGE } from './model/use-model-draft';

interface DeskModelsProps {
  readonly chosen: string;
  readonly onChoose: (model: ProfileSummary) => void;
}

/** The models of desks that are here, of which one is chosen; and another from a profile file. */
export function DeskModels({ chosen, onChoose }: DeskModelsProps) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: models } = useProfilesQuery();
  const [add, { isLoading, error }] = useAddProfileMutation();
  const [unreadable, setUnreadable] = useState('');
  const [opened, setOpened] = useState<Readonly<Record<string, unknown>>>({});
  const open = async (file: File) => {
    setUnreadable('');
    const source = parsed(await file.text());
    if (source === undefined) return setUnreadable(`${file.name} is not a profile: it holds no JSON object.`);
    setOpened(source);
    const answer = await add(source);
    if (answer.data) onChoose(answer.data);
  };
  /** Lets the file be what somebody has typed into the form about the model of its id. */
  const change = () => {
    const id = String(opened['id']);
    dispatch(drafted({ form: modelForm(id, false), initial: NO_CHANGE, change: { source: opened } }));
    router.navigate(modelHref(id, { isCopy: false }));
  };
  return (
    <>
      <AppText kind="strong">Model</AppText>
      <View role="radiogroup" aria-label="Model">
        {(models ?? []).map((model) => (
          <Option
            key={model.id}
            title={model.name}
            under={`${plural(model.strips, 'strip')}, ${plural(model.settings, 'setting')}`}
            chosen={model.id === chosen}
            onPress={() => onChoose(model)}
          />
        ))}
      </View>
      {models?.length === 0 ? (
        <AppText tone="second">No model is here yet. A profile file says what a model has.</AppText>
      ) : null}
      {models?.some(({ id }) => id === chosen) ? (
        <Action
          asks={PROFILE_ROUTES.addProfile}
          kind="quiet"
          title="A copy of it to change …"
          onPress={() => router.navigate(modelHref(chosen, { isCopy: true }))}
        />
      ) : null}
      <Action
        asks={PROFILE_ROUTES.addProfile}
        kind="quiet"
        title="From a profile file …"
        busy={isLoading}
        onPress={() => chooseFiles({ accept: '.json' }, ([file]) => file && void open(file))}
      />
      {unreadable ? (
        <AppText tone="stop" aria-live="polite">
          {unreadable}
        </AppText>
      ) : (
        <FaultBelow error={error} />
      )}
      {error && toApiFault(error).code === 'conflict' ? (
        <Action
          asks={PROFILE_ROUTES.changeProfile}
          kind="quiet"
          title="What it means to change it …"
          onPress={change}
        />
      ) : null}
    </>
  );
}

function parsed(text: string): Record<string, unknown> | undefined {
  try {
    const source: unknown = JSON.parse(text);
    return isRecord(source) ? source : undefined;
  } catch {
    return undefined;
  }
}
