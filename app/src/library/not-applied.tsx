import { StyleSheet, View } from 'react-native';

import { displayName } from '@old-echo/core/desk/state';
import type { PresetSource } from '@old-echo/core/library/apply-preset';
import type { ConversionNote } from '@old-echo/core/library/convert-strip';
import { conversionReport } from '@old-echo/core/phrases/conversion-report';

import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

interface BehindProps {
  readonly source: PresetSource;
  readonly now: LiveDesk;
  readonly notes: readonly ConversionNote[];
  /** Which strip of the source lands on a strip of the desk. */
  readonly fromOf: (onto: string) => string;
}

/** What stays behind, and what has to change on its way, in a line each. */
export function NotApplied({ source, now, notes, fromOf }: BehindProps) {
  if (notes.length === 0) return null;
  const lines = conversionReport(source.profile, now.profile, notes, fromOf, source.content);
  const many = new Set(lines.map(({ strip }) => strip)).size > 1;
  return (
    <Card edge="care">
      <View testID="not-applied" style={styles.lines}>
        <AppText kind="strong">
          {lines.length === 1 ? '1 setting does not fit as it is' : `${lines.length} settings do not fit as they are`}
        </AppText>
        {lines.map(({ strip, what, why }, i) => (
          <AppText key={i} tone="second">
            {many && now.profile.strips.includes(strip) ? `${displayName(now.profile, now.state, strip)}: ` : ''}
            {what} · {why}
          </AppText>
        ))}
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({ lines: { gap: SPACE.xs } });
