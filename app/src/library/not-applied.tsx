import { StyleSheet, View } from 'react-native';

import type { Note } from '@old-echo/core/library/convert-strip';
import type { Source } from '@old-echo/core/library/apply-preset';
import { reportOf } from '@old-echo/core/library/conversion-report';
import { stripName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/desk/format-value';

import type { DeskNow } from '../store/use-live-desk';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Words } from '../ui/app-text';

interface BehindProps {
  readonly source: Source;
  readonly now: DeskNow;
  readonly notes: readonly Note[];
  /** Which strip of the source lands on a strip of the desk. */
  readonly fromOf: (onto: string) => string;
}

/** What stays behind, and what has to change on its way, in a line each. */
export function Behind({ source, now, notes, fromOf }: BehindProps) {
  if (notes.length === 0) return null;
  const lines = reportOf(source.profile, now.profile, notes, fromOf, source.content);
  const many = new Set(lines.map(({ strip }) => strip)).size > 1;
  return (
    <Card edge="care">
      <View testID="stays-behind" style={styles.lines}>
        <Words kind="strong">{plural(lines.length, 'thing')} cannot come along as it is</Words>
        {lines.map(({ strip, what, why }, i) => (
          <Words key={i} tone="second">
            {many && now.profile.strips.includes(strip) ? `${stripName(now.profile, now.state, strip)}: ` : ''}
            {what} · {why}
          </Words>
        ))}
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({ lines: { gap: SPACE.xs } });
