import { StyleSheet, View } from 'react-native';

import type { Note } from '@old-echo/core/carry/convert';
import type { Source } from '@old-echo/core/carry/put';
import { reportOf } from '@old-echo/core/carry/report';
import { stripName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/desk/wording';

import type { DeskNow } from '../../live/use-desk';
import { Card } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Words } from '../../ui/words';

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
