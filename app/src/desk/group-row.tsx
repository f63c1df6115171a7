import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';

interface GroupRowProps {
  readonly name: string;
  /** Its settings in a few words, shown while it is folded. */
  readonly gist: string;
  readonly drifted: number;
  /** What is moved most, in the row itself. */
  readonly main?: ReactNode;
  /** Its other settings, made only when it is open. */
  readonly children: () => ReactNode;
}

/** A band, a slot or a send: one row, and all of its settings when it is tapped. */
export function GroupRow({ name, gist, drifted, main, children }: GroupRowProps) {
  const look = useLook();
  const [open, setOpen] = useState(false);
  return (
    <View style={{ borderTopWidth: 1, borderColor: look.line }}>
      <View style={styles.row}>
        <Pressable
          role="button"
          aria-expanded={open}
          aria-label={`${name}, ${gist}`}
          onPress={() => setOpen(!open)}
          style={[styles.head, main !== undefined && styles.beside]}
        >
          <Icon of={open ? ChevronDown : ChevronRight} size={18} color={look.second} />
          <AppText style={main === undefined ? styles.name : styles.narrow} numberOfLines={1}>
            {name}
          </AppText>
          {main === undefined ? (
            <AppText kind="small" tone={drifted > 0 ? 'care' : 'second'} numberOfLines={1} style={styles.gist}>
              {gist}
              {drifted > 0 ? ` · ${drifted} drifted` : ''}
            </AppText>
          ) : null}
        </Pressable>
        {main}
      </View>
      {open ? <View style={styles.inner}>{children()}</View> : null}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  head: { flex: 1, flexDirection: 'row', alignItems: 'center', gap: SPACE.xs, minHeight: ROW, minWidth: 96 },
  beside: { flex: 0.62 },
  name: { flexShrink: 0, flexGrow: 1 },
  narrow: { flexShrink: 1, minWidth: 0 },
  gist: { flexShrink: 1, textAlign: 'right' },
  inner: { paddingLeft: SPACE.xl },
});
