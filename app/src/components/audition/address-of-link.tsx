import { StyleSheet, View } from 'react-native';

import type { MadeClientLink } from '@old-echo/core/contracts/client-link';

import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { QrCode } from '../../ui/qr-code';
import { SPACE } from '../../ui/tokens';

interface AddressOfLinkProps {
  readonly made: MadeClientLink;
  readonly onClose: () => void;
}

/** Where a link for clients leads, in words and for a camera: shown once. */
export function AddressOfLink({ made: { path, addresses }, onClose }: AddressOfLinkProps) {
  const dispatch = useAppDispatch();
  const address = addresses[0] ?? `${window.location.origin}${path}`;
  const copy = () =>
    navigator.clipboard.writeText(address).then(
      () => dispatch(noticed('The address is copied.')),
      () => dispatch(noticed('This browser does not copy here. Mark the address and copy it by hand.')),
    );
  return (
    <View style={styles.column}>
      <QrCode text={address} label={address} />
      <AppText kind="value" selectable testID="link-address">
        {address}
      </AppText>
      <AppText tone="second">
        {addresses.length === 0
          ? 'Only this machine opens it: nobody on the network reaches Old Echo. Start it with npm start -- --network.'
          : 'It is shown this once. Whoever has it hears the mixes as they are now, whatever is done to them later.'}
      </AppText>
      <Action kind="main" title="Copy the address" onPress={() => void copy()} />
      <Action title="Close" onPress={onClose} />
    </View>
  );
}

const styles = StyleSheet.create({ column: { gap: SPACE.m, paddingBottom: SPACE.s } });
