import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { ENTRY_CODE_S, type EntryCode } from '@old-echo/core/contracts/device';

import { FaultCard } from '../components/fault-card';
import { useDevicesQuery, useMakeEntryCodeMutation } from '../store/people-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { QrCode } from '../ui/qr-code';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

interface EntrySheetProps {
  readonly onClose: () => void;
}

/** How often it is looked whether somebody came in, in ms. */
const LOOK_MS = 1500;

/** What a phone is shown to get in: a picture for its camera, and the same in words. */
export function EntrySheet({ onClose }: EntrySheetProps) {
  const [make, { data: entry, error, isLoading }] = useMakeEntryCodeMutation();
  const left = useSecondsUntil(entry?.endsAt);
  const { data: devices } = useDevicesQuery(undefined, { pollingInterval: LOOK_MS });
  useEffect(() => void make(), [make]);
  const cameIn = entry && devices?.find(({ madeAt }) => madeAt >= beganAt(entry));
  return (
    <Sheet title="Let a phone in" open onClose={onClose}>
      <View style={styles.column}>
        {error ? <FaultCard error={error} /> : null}
        {cameIn ? (
          <AppText kind="strong" tone="done" aria-live="polite">
            {cameIn.name} is in.
          </AppText>
        ) : entry && left > 0 ? (
          <EntryWays entry={entry} left={left} />
        ) : entry ? (
          <AppText>The two minutes are over.</AppText>
        ) : null}
        {cameIn || (entry && left === 0) || error ? (
          <Action title={cameIn ? 'Let another one in' : 'New code'} busy={isLoading} onPress={() => void make()} />
        ) : null}
        <Action title="Close" onPress={onClose} />
      </View>
    </Sheet>
  );
}

function EntryWays({ entry: { code, addresses }, left }: { readonly entry: EntryCode; readonly left: number }) {
  const [address = '', ...others] = addresses;
  return (
    <>
      <QrCode text={`${address}/enter?code=${code}`} label={`${address}/enter, code ${spaced(code)}`} />
      <AppText tone="second">
        Point its camera at this, or open the address there and type the code. It warns once of a certificate that it
        does not know: that is this machine’s own.
      </AppText>
      <AppText kind="value">{address}</AppText>
      <AppText kind="figure" testID="entry-code">
        {spaced(code)}
      </AppText>
      {others.length > 0 ? <AppText tone="second">Or by another network: {others.join(', ')}</AppText> : null}
      <AppText tone="second">Good for one phone, for another {left} s.</AppText>
    </>
  );
}

/** "K7Q2M 9XH4T" */
const spaced = (code: string): string => `${code.slice(0, 5)} ${code.slice(5)}`;

/** When a code was made. */
const beganAt = ({ endsAt }: EntryCode): string => new Date(Date.parse(endsAt) - ENTRY_CODE_S * 1000).toISOString();

/** Whole seconds until a moment, counted down as they pass. */
function useSecondsUntil(moment: string | undefined): number {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 500);
    return () => clearInterval(timer);
  }, []);
  if (!moment) return 0;
  return Math.min(ENTRY_CODE_S, Math.max(0, Math.ceil((Date.parse(moment) - now.getTime()) / 1000)));
}

const styles = StyleSheet.create({
  column: { gap: SPACE.m },
});
