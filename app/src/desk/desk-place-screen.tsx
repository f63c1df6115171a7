import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { type DeskView, newDeskShape, NOWHERE } from '@old-echo/core/contracts/desk';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { DESK_ROUTES, PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { MAX_NAME_LENGTH, uniqueName } from '@old-echo/core/fault/text-shapes';

import { FaultBelow } from '../components/fault-card';
import { KeptDraft } from '../components/kept-draft';
import { Loading } from '../components/loading';
import { addressOf, ask } from '../store/ask';
import { deskHref } from '../store/desk-address';
import {
  useAddDeskMutation,
  useDesksQuery,
  usePlaceDeskMutation,
  useProfilesQuery,
  useRemoveDeskMutation,
} from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { wentToDesk } from '../store/preferences-slice';
import { useAppDispatch } from '../store/store';
import { useDraft } from '../store/use-draft';
import { whyLocked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Body, Empty, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { AddressFields } from './address-fields';
import { DeskModels } from './desk-models';
import { firstWrong } from './first-wrong';
import { LinkTrialCard } from './link-trial-card';
import { modelHref } from './model/model-href';
import { NearbyDesks } from './nearby-desks';

/** Where a desk is and what it is called: of a new one, or of one that is here. */
export function DeskPlaceScreen() {
  const { desk: id } = useLocalSearchParams<{ desk?: string }>();
  const { data: desks } = useDesksQuery();
  const { data: models } = useProfilesQuery();
  const desk = desks?.find((one) => one.id === id);
  // Drawn once both are here, so that nothing moves away under a finger.
  if (!desks || !models) return <Loading what="Loading the desks" />;
  if (id !== undefined && !desk)
    return <Empty title="This desk no longer exists">Choose another in the settings.</Empty>;
  return <Form key={id ?? 'new'} desk={desk} />;
}

/** The host and the port of an address; both empty where there is none. */
const split = (address = ''): { host: string; port: string } => {
  const at = address.lastIndexOf(':');
  return { host: address.slice(0, Math.max(0, at)), port: address.slice(at + 1) };
};

function Form({ desk }: { readonly desk: DeskView | undefined }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { data: desks = [] } = useDesksQuery();
  const { data: models = [] } = useProfilesQuery();
  const taken = desks.filter(({ removedAt }) => !removedAt).map((one) => one.name);
  const before = split(desk?.address);
  const draft = useDraft(`desk/${desk?.id ?? 'new'}`, {
    name: desk?.name ?? '',
    ...before,
    profileId: desk?.profileId ?? '',
    mode: desk?.mode ?? 'studio',
  });
  const { name, host, port, profileId, mode } = draft.values;
  const [finding, setFinding] = useState(false);
  const [add, adding] = useAddDeskMutation();
  const [placed, placing] = usePlaceDeskMutation();
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/settings'));
  useShortcuts({ Escape: back });
  const asModel = ({ id, name: title, use }: ProfileSummary) => ({
    profileId: id,
    mode: use,
    ...(name === '' ? { name: uniqueName(title, taken) } : {}),
  });
  const isManual = models.find(({ id }) => id === profileId)?.manual === true;
  const place = { name: name.trim(), ...(isManual ? NOWHERE : { host: host.trim(), port: Number(port) }) };
  const whyNot = firstWrong(newDeskShape, { ...place, profileId, mode }) || (desk !== undefined && whyLocked(desk));
  const save = async () => {
    if (desk) {
      const answer = await placed({ id: desk.id, place });
      if (!answer.data) return;
      const at = isManual ? NOWHERE : { host: before.host, port: Number(before.port) };
      const undo = { params: { id: desk.id }, body: { name: desk.name, ...at } };
      dispatch(
        noticed(
          isManual ? `Renamed to ${answer.data.name}.` : `${answer.data.name} is looked for at ${answer.data.address}.`,
          desk.address || isManual ? ask(DESK_ROUTES.placeDesk, undo) : undefined,
        ),
      );
      draft.forget();
      return back();
    }
    const { data } = await add({ ...place, profileId, mode });
    if (!data) return;
    dispatch(noticed(`${data.name} added.`, ask(DESK_ROUTES.removeDesk, { params: { id: data.id } })));
    draft.forget();
    dispatch(wentToDesk(data.id));
    router.replace(deskHref(data.id));
  };
  return (
    <View style={styles.fill}>
      <Header
        title={desk ? desk.name : 'Add a desk'}
        {...(desk ? { over: isManual ? 'Name' : 'Name and address' } : {})}
        onBack={back}
      />
      <Body>
        <View style={styles.form}>
          <KeptDraft draft={draft} />
          {desk ? null : <Action title="Find it on the network …" onPress={() => setFinding(true)} />}
          {desk ? null : (
            <Action
              kind="quiet"
              title="It has an OSC of its own: learn it …"
              onPress={() => router.navigate('/learn')}
            />
          )}
          {desk ? null : <DeskModels chosen={profileId} onChoose={(model) => draft.set(asModel(model))} />}
          <Field
            label="Name"
            value={name}
            onChangeText={(text) => draft.set({ name: text })}
            maxLength={MAX_NAME_LENGTH}
            testID="desk-name"
          />
          {isManual ? (
            <AppText tone="second">
              No wire leads to it: a person says where its controls stand, and turns them when a scene comes back.
            </AppText>
          ) : (
            <AddressFields host={host} port={port} onChange={draft.set} />
          )}
          {desk ? null : (
            <ChipRow role="tablist" aria-label="Mode">
              <Chip title="Studio" chosen={mode === 'studio'} onPress={() => draft.set({ mode: 'studio' })} />
              <Chip title="Live" chosen={mode === 'live'} onPress={() => draft.set({ mode: 'live' })} />
            </ChipRow>
          )}
          {isManual ? null : (
            <>
              <LinkTrialCard tried={{ profileId, host: place.host, port: place.port }} />
              <AppText kind="small" tone="second">
                Trying a link moves nothing on the desk.
              </AppText>
            </>
          )}
          {desk ? <OfOneThatIsHere desk={desk} /> : null}
        </View>
      </Body>
      <FaultBelow error={adding.error ?? placing.error} />
      {finding ? (
        <NearbyDesks
          onClose={() => setFinding(false)}
          onChoose={(found) => {
            const model = models.find(({ id }) => id === found.profileId);
            draft.set({ host: found.host, port: String(found.port), ...(model ? asModel(model) : {}) });
          }}
        />
      ) : null}
      <Footer>
        <Action
          asks={DESK_ROUTES.placeDesk}
          kind="main"
          grow
          title={desk ? 'Save' : 'Add desk'}
          busy={adding.isLoading || placing.isLoading}
          disabled={whyNot}
          onPress={() => void save()}
        />
        <Action title="Cancel" onPress={back} />
      </Footer>
    </View>
  );
}

/** What else can be done with a desk: its profile handed on, and itself taken out of use. */
function OfOneThatIsHere({ desk }: { readonly desk: DeskView }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [remove, { isLoading }] = useRemoveDeskMutation();
  const params = { id: desk.id };
  const takeOut = () =>
    void done(
      remove(desk.id),
      () => `${desk.name} is out of use. Its songs and shows stay.`,
      ask(DESK_ROUTES.bringBackDesk, { params }),
    ).then((removed) => removed && router.navigate('/settings'));
  return (
    <>
      {desk.link.manual ? null : (
        <Action
          asks={DESK_ROUTES.wire}
          kind="quiet"
          title="What goes over the wire"
          onPress={() => router.navigate(deskHref(desk.id, 'wire'))}
        />
      )}
      <Action
        asks={PROFILE_ROUTES.changeProfile}
        kind="quiet"
        title="What its model has"
        onPress={() => router.navigate(modelHref(desk.profileId, { isCopy: false }))}
      />
      <Action
        kind="quiet"
        title="Save its profile as a file"
        onPress={() =>
          window.location.assign(addressOf(PROFILE_ROUTES.exportProfile, { params: { id: desk.profileId } }))
        }
      />
      <Action
        asks={DESK_ROUTES.removeDesk}
        kind="quiet"
        title={`Remove ${desk.name}`}
        busy={isLoading}
        disabled={whyLocked(desk) || (Boolean(desk.removedAt) && 'It is out of use already.')}
        onPress={takeOut}
      />
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  form: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
