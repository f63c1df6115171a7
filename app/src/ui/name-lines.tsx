import { StyleSheet, View } from 'react-native';

import { AppText } from './app-text';

interface NameLinesProps {
  readonly name: string;
  /** What else there is to say of it; no line where there is nothing. */
  readonly under?: string | undefined;
  /** Over how many lines that may run. */
  readonly lines?: number;
  /** Of the line under it, for a control that it describes. */
  readonly underId?: string;
}

/** What a row is about, in the room that the rest of the row leaves: its name, and a line under it. */
export const NameLines = ({ name, under, lines = 1, underId }: NameLinesProps) => (
  <View style={styles.fill}>
    <AppText kind="strong" numberOfLines={1}>
      {name}
    </AppText>
    {under ? (
      <AppText kind="small" tone="second" numberOfLines={lines} nativeID={underId}>
        {under}
      </AppText>
    ) : null}
  </View>
);

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 } });
