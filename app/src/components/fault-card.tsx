import { StyleSheet, View } from 'react-native';

import { toApiFault } from '../store/api';
import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';

interface FaultCardProps {
  /** What an endpoint was refused with. */
  readonly error: unknown;
  readonly children?: React.ReactNode;
}

/** Why something was refused, and what to do: read out at once, and to stand beside the button that asked. */
export function FaultCard({ error, children }: FaultCardProps) {
  const { message, advice } = toApiFault(error);
  return (
    <View accessibilityRole="alert">
      <Card edge="stop">
        <AppText kind="strong">{message}</AppText>
        <AppText>{advice}</AppText>
        {children}
      </Card>
    </View>
  );
}

/** The same under a page that scrolls, where it is seen however far down that is. */
export const FaultBelow = ({ error }: { readonly error: unknown }) =>
  error ? (
    <View style={styles.below}>
      <FaultCard error={error} />
    </View>
  ) : null;

const styles = StyleSheet.create({
  below: {
    width: '100%',
    maxWidth: MAX_TEXT_WIDTH,
    alignSelf: 'center',
    paddingHorizontal: SPACE.l,
    paddingTop: SPACE.s,
  },
});
