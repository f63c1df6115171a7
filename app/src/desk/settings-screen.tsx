import { useRouter } from 'expo-router';
import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { DeskEdit, DeskView } from '@old-echo/core/contracts/desk';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { PEOPLE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { LoadError, Loading } from '../components/loading';
import { faultLine, toApiFault } from '../store/api';
import { useBringBackDeskMutation, useDesksQuery, useEditDeskMutation } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { useHereQuery } from '../store/people-api';
import { type Appearance, calledOneself, changedAppearance, wentToDesk } from '../store/preferences-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { whyLocked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useMayAsk } from '../ui/allowed';
import { AppText } from '../ui/app-text';
import { Action, Chip, HoldButton } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Body, Card, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { MAX_TEXT_WIDTH, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { DeskSafesSheet } from './desk-safes-sheet';
import { StorageCard } from './storage-card';
import { ThresholdsSheet } from './thresholds-sheet';

const APPEARANCES: readonly (readonly [Appearance, string])[] = [
  ['auto', 'As this device'],
  ['day', 'Day'],
  ['night', 'Night'],
];

/**
 * Settings: what is set once and then left alone.
 * @param account who somebody is that was let in from elsewhere
 */
export function SettingsScreen({ account }: { readonly account: ReactNode }) {
  const { data: here } = useHereQuery();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { appearance, who } = useAppSelector((root) => root.place);
  // Links of the other desks are not followed live, so they are asked for now and then.
  const {
    data: desks,
    error,
    refetch,
  } = useDesksQuery(undefined, { pollingInterval: 3000, refetchOnMountOrArgChange: true });
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/desk'));
  const inUse = desks?.filter(({ removedAt }) => !removedAt) ?? [];
  const outOfUse = desks?.filter(({ removedAt }) => removedAt) ?? [];
  useShortcuts({ Escape: back });
  return (
    <View style={styles.fill}>
      <Header title="Settings" onBack={back} />
      {error ? (
        <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />
      ) : desks ? (
        <Body>
          <View style={styles.column}>
            {inUse.map((desk) => (
              <Desk
                key={desk.id}
                desk={desk}
                onOpen={() => {
                  dispatch(wentToDesk(desk.id));
                  router.navigate(`/desk/${desk.id}`);
                }}
              />
            ))}
            <Action asks={DESK_ROUTES.addDesk} title="Add a desk" onPress={() => router.navigate('/add-desk')} />
            {outOfUse.map((desk) => (
              <OutOfUse key={desk.id} desk={desk} />
            ))}
            <Action
              title="People on the network"
              asks={PEOPLE_ROUTES.people}
              onPress={() => router.navigate('/people')}
            />
            <AppText kind="heading">You</AppText>
            {here?.person ? (
              account
            ) : (
              <Field
                label="Your name, for scenes and the restore log"
                value={who}
                maxLength={MAX_PERSON_NAME_LENGTH}
                onChangeText={(name) => dispatch(calledOneself(name))}
                testID="who"
              />
            )}
            <AppText kind="heading">Appearance</AppText>
            <ChipRow role="tablist">
              {APPEARANCES.map(([value, name]) => (
                <Chip
                  key={value}
                  title={name}
                  chosen={appearance === value}
                  onPress={() => dispatch(changedAppearance(value))}
                />
              ))}
            </ChipRow>
            <StorageCard />
            <AppText tone="second">Press ? on any screen for the keyboard shortcuts.</AppText>
          </View>
        </Body>
      ) : (
        <Loading what="Loading the desks" />
      )}
    </View>
  );
}

function Desk({ desk, onOpen }: { readonly desk: DeskView; readonly onOpen: () => void }) {
  const dispatch = useAppDispatch();
  const [edit] = useEditDeskMutation();
  const mayEdit = useMayAsk()(DESK_ROUTES.editDesk);
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [safes, setSafes] = useState(false);
  const here = useAppSelector((root) => root.place.deskId === desk.id);
  const [leaving, setLeaving] = useState(false);
  const save = async (change: DeskEdit) => {
    const answer = await edit({ id: desk.id, edit: change });
    if (answer.error) dispatch(noticed(faultLine(answer.error)));
  };
  const change = (mode: DeskView['mode']) => save({ mode });
  const linked = desk.link.state === 'linked';
  return (
    <Card>
      <Pressable role="button" onPress={onOpen} style={styles.desk}>
        <View style={styles.fill}>
          <AppText kind="heading">
            {desk.name}
            {here ? ' · open' : ''}
          </AppText>
          <AppText kind="value" tone="second">
            {desk.link.manual ? 'No wire leads there' : desk.address || 'No address yet'}
          </AppText>
        </View>
        <AppText kind="strong" tone={linked ? 'done' : 'stop'}>
          {linked
            ? desk.link.manual
              ? '● By hand'
              : '● Connected'
            : desk.link.state === 'reading'
              ? '○ Reading'
              : '○ Not connected'}
        </AppText>
      </Pressable>
      {mayEdit ? (
        <ChipRow role="tablist" aria-label="Mode">
          <Chip
            title="Studio"
            chosen={desk.mode === 'studio'}
            disabled={whyLocked(desk)}
            onPress={() => (desk.mode === 'live' ? setLeaving(true) : undefined)}
          />
          <Chip
            title="Live"
            chosen={desk.mode === 'live'}
            disabled={whyLocked(desk)}
            onPress={() => void change('live')}
          />
        </ChipRow>
      ) : null}
      <AppText kind="small" tone="second">
        {desk.showLock
          ? 'The show is locked: mode, thresholds and safes stay as they are.'
          : desk.mode === 'live'
            ? 'Live: hold to restore; every Stop must be answered.'
            : 'Studio: tap to restore; a Stop still blocks.'}
      </AppText>
      {desk.link.manual || !mayEdit ? null : (
        <ChipRow role="tablist" aria-label="What a hand keeps during a restore">
          <Chip
            title="A hand keeps its control"
            chosen={desk.handHolds === 'control'}
            disabled={whyLocked(desk)}
            onPress={() => void save({ handHolds: 'control' })}
          />
          <Chip
            title="Its whole strip"
            chosen={desk.handHolds === 'strip'}
            disabled={whyLocked(desk)}
            onPress={() => void save({ handHolds: 'strip' })}
          />
        </ChipRow>
      )}
      <ChipRow>
        <Action asks={DESK_ROUTES.editDesk} kind="quiet" title="Caution thresholds …" onPress={() => setOpen(true)} />
        <Action
          asks={DESK_ROUTES.editDesk}
          kind="quiet"
          title="What never comes back …"
          onPress={() => setSafes(true)}
        />
        <Action
          asks={DESK_ROUTES.placeDesk}
          kind="quiet"
          title={desk.link.manual ? 'Name …' : 'Name and address …'}
          onPress={() => router.navigate(`/desk/${desk.id}/place`)}
        />
        <Action kind="quiet" title="Restore log" onPress={() => router.navigate(`/desk/${desk.id}/log`)} />
      </ChipRow>
      {safes ? <DeskSafesSheet desk={desk} onClose={() => setSafes(false)} /> : null}
      <ThresholdsSheet desk={desk} open={open} onClose={() => setOpen(false)} />
      <Sheet title={`${desk.name}: leave live`} open={leaving} onClose={() => setLeaving(false)}>
        <View style={styles.ask}>
          <AppText>In studio mode one tap restores, and fewer cautions must be answered.</AppText>
          <ChipRow>
            <HoldButton title="Hold to leave live" onDone={() => void change('studio').then(() => setLeaving(false))} />
          </ChipRow>
          <Action title="Cancel" onPress={() => setLeaving(false)} />
        </View>
      </Sheet>
    </Card>
  );
}

/** A desk that was removed: what was made on it is still there. */
function OutOfUse({ desk }: { readonly desk: DeskView }) {
  const done = useRunAndNotify();
  const [bringBack, { isLoading }] = useBringBackDeskMutation();
  return (
    <View style={styles.desk}>
      <AppText tone="second" style={styles.fill}>
        {desk.name} · out of use
      </AppText>
      <Action
        asks={DESK_ROUTES.bringBackDesk}
        kind="quiet"
        title={`Bring back ${desk.name}`}
        busy={isLoading}
        onPress={() => void done(bringBack(desk.id), () => `${desk.name} is in use again.`)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  ask: { gap: SPACE.m, paddingBottom: SPACE.s },
  desk: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH },
});
