import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/phrases/format-value';

import { SaveFrom } from '../components/presets/save-preset-sheet';
import { deskHref } from '../store/desk-address';
import { cleared, toggled } from '../store/selection-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { focusedId } from '../ui/focus-registry';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** Says how many strips are picked out, and what for; the key x picks the strip that is marked. */
export function SelectionBar({ now }: { readonly now: LiveDesk }) {
  const look = useLook();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [saving, setSaving] = useState(false);
  const selected = useAppSelector((root) => root.selection);
  const count = selected.length;
  const then = (act: () => void) => () => {
    setOpen(false);
    act();
  };
  useShortcuts({
    x: () => {
      const marked = focusedId('strip');
      if (marked) dispatch(toggled(marked));
    },
  });
  if (count === 0) return null;
  return (
    <View style={[styles.bar, { backgroundColor: look.wash }]}>
      <View style={styles.fill}>
        <AppText kind="strong">{plural(count, 'strip')} selected</AppText>
        <AppText kind="small" tone="second">
          Preselected wherever strips are chosen
        </AppText>
      </View>
      <Action kind="quiet" title="Actions …" onPress={() => setOpen(true)} />
      <Action kind="quiet" title="Clear" onPress={() => dispatch(cleared())} />
      <Sheet title={`Actions for ${plural(count, 'strip')}`} open={open} onClose={() => setOpen(false)}>
        <MenuRow
          title="Edit selected strips"
          under="To the same value, or by the same step"
          onPress={then(() => router.navigate(deskHref(now.desk.id, 'edit-strips')))}
        />
        <MenuRow
          title="Apply a preset to all of them"
          under="The same EQ, the same insert, everywhere"
          onPress={then(() => router.navigate('/library'))}
        />
        <MenuRow
          title="Save them to the library"
          under="As a strip set, with what they feed"
          onPress={then(() => setSaving(true))}
        />
      </Sheet>
      <SaveFrom
        profile={now.profile}
        state={now.state}
        madeOn={now.desk.name}
        strips={now.profile.strips.filter((strip) => selected.includes(strip))}
        open={saving}
        onClose={() => setSaving(false)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: SPACE.l, minHeight: TOUCH },
  fill: { flex: 1, minWidth: 0 },
});
