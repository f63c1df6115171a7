import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeviceView } from '@old-echo/core/contracts/device';
import type { PersonView } from '@old-echo/core/contracts/person';

import { heardAt } from '../components/heard-at';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { useHereQuery, usePeopleQuery, useShutOutMutation } from '../store/people-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Footer, HoldButton } from '../ui/buttons';
import { Body, Card, Empty, Header } from '../ui/layout';
import { MoreAction } from '../ui/menu';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { EntrySheet } from './entry-sheet';
import { PersonSheet } from './person-sheet';
import { ROLE_NAMES } from './role-words';

/** How often it is looked who came in, in ms. */
const LOOK_MS = 3000;

/** Who may use Old Echo from elsewhere on the network, by which devices, and what they may do. */
export function PeopleScreen() {
  const router = useRouter();
  const { data: here, error: failedHere, refetch: lookHere } = useHereQuery();
  const isOwner = here?.role === 'owner';
  const { data: people, error, refetch } = usePeopleQuery(undefined, { skip: !isOwner, pollingInterval: LOOK_MS });
  const [asked, setAsked] = useState<{ to: 'let in'; person?: PersonView } | { to: 'change'; id: string } | null>(null);
  const back = () => (router.canGoBack() ? router.back() : router.replace('/settings'));
  const failed = failedHere ?? error;
  if (failed)
    return <LoadError fault={toApiFault(failed)} onAgain={() => void (failedHere ? lookHere() : refetch())} />;
  if (!here || (isOwner && !people)) return <Loading what="Loading the people" />;
  const changed = asked?.to === 'change' ? people?.find(({ id }) => id === asked.id) : undefined;
  return (
    <View style={styles.fill}>
      <Header over="Settings" title="People" onBack={back} />
      <Body>
        <View style={styles.column}>
          <AppText tone="second">
            {isOwner
              ? 'Whoever uses Old Echo from a phone or computer on the network. Each device gets in by a code of its own, and can be shut out at once.'
              : 'Owners let people in and shut them out.'}
          </AppText>
          {people?.map((person) => (
            <Person key={person.id} person={person} onMore={() => setAsked({ to: 'change', id: person.id })} />
          ))}
          {people?.length === 0 ? (
            <Empty title="Nobody is let in">Nothing on the network reaches Old Echo.</Empty>
          ) : null}
          {isOwner ? <Action title="Who changed what" onPress={() => router.navigate('/changes')} /> : null}
        </View>
      </Body>
      {isOwner ? (
        <Footer>
          <Action
            kind="main"
            grow
            title="Let somebody in"
            disabled={here.network === null && 'Start Old Echo with npm start -- --network.'}
            onPress={() => setAsked({ to: 'let in' })}
          />
        </Footer>
      ) : null}
      {asked?.to === 'let in' ? (
        <EntrySheet people={people ?? []} person={asked.person} onClose={() => setAsked(null)} />
      ) : null}
      {changed ? (
        <PersonSheet
          person={changed}
          onClose={() => setAsked(null)}
          onLetIn={() => setAsked({ to: 'let in', person: changed })}
        />
      ) : null}
    </View>
  );
}

interface PersonProps {
  readonly person: PersonView;
  readonly onMore: () => void;
}

function Person({ person: { name, role, productions, devices }, onMore }: PersonProps) {
  const elsewhere =
    productions.length > 0
      ? `, otherwise in ${productions.length === 1 ? 'one song or show' : `${productions.length} songs and shows`}`
      : '';
  return (
    <Card>
      <View style={styles.head}>
        <View style={styles.fill}>
          <AppText kind="strong" numberOfLines={1}>
            {name}
          </AppText>
          <AppText tone="second">{`${ROLE_NAMES[role]}${elsewhere}`}</AppText>
        </View>
        <MoreAction of={name} onPress={onMore} />
      </View>
      {devices.map((device) => (
        <Device key={device.id} device={device} />
      ))}
      {devices.length === 0 ? <AppText tone="second">In by no device at the moment.</AppText> : null}
    </Card>
  );
}

function Device({ device }: { readonly device: DeviceView }) {
  const done = useRunAndNotify();
  const [shutOut] = useShutOutMutation();
  return (
    <View style={styles.device}>
      <AppText>{device.name}</AppText>
      <AppText kind="small" tone="second">
        Let in {heardAt(device.madeAt)}, last seen {heardAt(device.seenAt)}
      </AppText>
      <HoldButton
        title={`Hold to shut ${device.name} out`}
        onDone={() => void done(shutOut(device.id), ({ name }) => `${name} is shut out.`)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  head: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  device: { gap: SPACE.xs, paddingTop: SPACE.s },
});
