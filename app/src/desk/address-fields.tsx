import { StyleSheet, View } from 'react-native';

import { Field } from '../ui/field';
import { SPACE } from '../ui/tokens';

interface Address {
  readonly host: string;
  /** As it is typed: nothing but digits. */
  readonly port: string;
}

interface AddressFieldsProps extends Address {
  readonly onChange: (change: Partial<Address>) => void;
}

/** Where a desk is, typed. */
export const AddressFields = ({ host, port, onChange }: AddressFieldsProps) => (
  <View style={styles.row}>
    <View style={styles.fill}>
      <Field
        label="Address"
        placeholder="192.168.1.20"
        value={host}
        onChangeText={(text) => onChange({ host: text })}
        maxLength={253}
        testID="desk-host"
      />
    </View>
    <View style={styles.port}>
      <Field
        label="Port"
        placeholder="9000"
        value={port}
        onChangeText={(text) => onChange({ port: text.replaceAll(/\D/g, '').slice(0, 5) })}
        testID="desk-port"
      />
    </View>
  </View>
);

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', gap: SPACE.m },
  port: { width: 110 },
});
