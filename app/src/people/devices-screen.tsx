import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeviceView } from '@old-echo/core/contracts/device';

import { heardAt } from '../components/heard-at';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { useDevicesQuery, useHereQuery, useShutOutMutation } from '../store/people-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Footer, HoldButton } from '../ui/buttons';
import { Body, Card, Empty, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { EntrySheet } from './entry-sheet';

/** How often it is looked who came in, in ms. */
const LOOK_MS = 3000;

/** The phones and computers on the network that may use Old Echo. */
export function DevicesScreen() {
  const router = useRouter();
  const { data: here, error: failedHere, refetch: lookHere } = useHereQuery();
  const isThisMachine = here?.isIn === true && here.device === null;
  const {
    data: devices,
    error,
    refetch,
  } = useDevicesQuery(undefined, { skip: !isThisMachine, pollingInterval: LOOK_MS });
  const [letting, setLetting] = useState(false);
  const back = () => (router.canGoBack() ? router.back() : router.replace('/settings'));
  useShortcuts({ Escape: back });
  const failed = failedHere ?? error;
  if (failed)
    return <LoadError fault={toApiFault(failed)} onAgain={() => void (failedHere ? lookHere() : refetch())} />;
  if (!here || (isThisMachine && !devices)) return <Loading what="Loading the devices" />;
  return (
    <View style={styles.fill}>
      <Header over="Settings" title="Devices" onBack={back} />
      <Body>
        <View style={styles.column}>
          {isThisMachine ? (
            <AppText tone="second">
              Phones and computers on the network that use Old Echo as this machine does. Each gets in by a code of its
              own, and can be shut out at once.
            </AppText>
          ) : (
            <AppText>
              This is {here.device?.name}, let in {heardAt(here.device?.madeAt ?? null)}. Devices are let in and shut
              out at the machine Old Echo runs on.
            </AppText>
          )}
          {devices?.map((device) => (
            <Device key={device.id} device={device} />
          ))}
          {devices?.length === 0 ? (
            <Empty title="No device is let in">Nothing on the network reaches Old Echo.</Empty>
          ) : null}
        </View>
      </Body>
      {isThisMachine ? (
        <Footer>
          <Action
            kind="main"
            grow
            title="Let a phone in"
            disabled={!here.isOnNetwork && 'Start Old Echo with npm start -- --network.'}
            onPress={() => setLetting(true)}
          />
        </Footer>
      ) : null}
      {letting ? <EntrySheet onClose={() => setLetting(false)} /> : null}
    </View>
  );
}

function Device({ device }: { readonly device: DeviceView }) {
  const done = useRunAndNotify();
  const [shutOut] = useShutOutMutation();
  return (
    <Card>
      <AppText kind="strong">{device.name}</AppText>
      <AppText tone="second">
        Let in {heardAt(device.madeAt)}, last seen {heardAt(device.seenAt)}
      </AppText>
      <HoldButton
        title={`Hold to shut ${device.name} out`}
        onDone={() => void done(shutOut(device.id), ({ name }) => `${name} is shut out.`)}
      />
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
