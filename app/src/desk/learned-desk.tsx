import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { NewListening } from '@old-echo/core/contracts/listening';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { freeProfileId } from '@old-echo/core/desk/edit-profile';
import { learnedProfile } from '@old-echo/core/desk/learn/learned-profile';
import type { Profile } from '@old-echo/core/desk/profile';
import { MAX_NAME_LENGTH, uniqueName } from '@old-echo/core/fault/text-shapes';
import { plural } from '@old-echo/core/phrases/format-value';

import { FaultBelow } from '../components/fault-card';
import { ask } from '../store/ask';
import { deskHref } from '../store/desk-address';
import { useAddDeskMutation, useAddProfileMutation, useDesksQuery, useProfilesQuery } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { wentToDesk } from '../store/preferences-slice';
import { useAppDispatch } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import type { LearnedControls } from './learned-control';

const MIN_WAIT_MS = 10;

interface LearnedDeskProps {
  readonly profile: Profile;
  readonly place: NewListening;
  readonly learned: LearnedControls;
  readonly onBack: () => void;
  readonly onDone: () => void;
}

/** Makes a model and a desk of what was learned. */
export function LearnedDesk({ profile, place, learned, onBack, onDone }: LearnedDeskProps) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: desks = [] } = useDesksQuery();
  const { data: models = [] } = useProfilesQuery();
  const [name, setName] = useState(() =>
    uniqueName(
      profile.name,
      desks.map((desk) => desk.name),
    ),
  );
  const [pace, setPace] = useState('500');
  const [addProfile, addingProfile] = useAddProfileMutation();
  const [addDesk, addingDesk] = useAddDeskMutation();
  const controls = Object.values(learned);
  const answers = controls.flatMap(({ asked }) => asked ?? []);
  const [alive] = answers;
  const unasked = controls.length - answers.length;
  const [say] = place.say;
  const add = async () => {
    if (!alive) return;
    const id = freeProfileId(
      name,
      models.map((model) => model.id),
    );
    const talk = {
      transport: place.transport,
      alive: { address: alive.address, arguments: alive.arguments, answer: alive.answer },
      pace: Number(pace),
      wait: waitFor(answers.map(({ answeredIn }) => answeredIn)),
      changes: say
        ? { by: 'subscription', address: say.address, arguments: say.arguments, every: place.every }
        : { by: 'itself' },
    } as const;
    const source = learnedProfile(
      profile,
      { id, name },
      talk,
      controls.map(({ rule }) => rule),
    );
    const model = await addProfile(source);
    if (!model.data) return;
    const { data } = await addDesk({ name, profileId: id, mode: profile.use, host: place.host, port: place.port });
    if (!data) return;
    dispatch(noticed(`${data.name} added.`, ask(DESK_ROUTES.removeDesk, { params: { id: data.id } })));
    onDone();
    dispatch(wentToDesk(data.id));
    router.replace(deskHref(data.id));
  };
  const whyNot =
    withoutName(name) ||
    (!alive && 'Nothing of it can be asked, so nobody would know whether it is there.') ||
    (!(Number(pace) >= 1) && 'It takes at least one message a second.');
  return (
    <View style={styles.fill}>
      <Header over={`${place.host}:${place.port}`} title="Use what was learned" onBack={onBack} />
      <Body>
        <View style={styles.column}>
          <Card edge={unasked > 0 ? 'care' : 'done'}>
            <AppText kind="strong">{plural(controls.length, 'kind')} of control learned</AppText>
            <AppText tone="second">
              {unasked > 0
                ? `${unasked} of them cannot be asked for: what is sent there is never called confirmed.`
                : 'All of them can be asked for.'}{' '}
              What was not learned is left out of the model. The map can be saved as a file afterwards.
            </AppText>
          </Card>
          <Field label="Name" value={name} onChangeText={setName} maxLength={MAX_NAME_LENGTH} testID="desk-name" />
          <Field
            label="Messages it takes in a second"
            value={pace}
            onChangeText={(text) => setPace(text.replaceAll(/\D/g, '').slice(0, 6))}
            testID="learn-pace"
          />
        </View>
      </Body>
      <FaultBelow error={addingProfile.error ?? addingDesk.error} />
      <Footer>
        <Action
          kind="main"
          grow
          title="Add desk"
          busy={addingProfile.isLoading || addingDesk.isLoading}
          disabled={whyNot}
          onPress={() => void add()}
        />
        <Action title="Learn more" onPress={onBack} />
      </Footer>
    </View>
  );
}

/** How long answers may take, in ms: three times what the one in the middle took. One that was held up by something else is no measure. */
function waitFor(times: readonly number[]): number {
  const inOrder = times.toSorted((a, b) => a - b);
  return Math.min(10_000, Math.max(MIN_WAIT_MS, Math.ceil(3 * (inOrder[Math.floor(inOrder.length / 2)] ?? 0))));
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
