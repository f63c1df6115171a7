import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { DEFAULT_THRESHOLDS, type Thresholds } from '@old-echo/core/signal/thresholds';

import { useEditDeskMutation } from '../store/desk-api';
import { whyLocked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { ValueSlider } from '../ui/value-slider';

const NAMES: readonly (readonly [key: keyof Thresholds, name: string])[] = [
  ['path', 'A path to a main or matrix gets louder by'],
  ['monitor', 'A path to a mix gets louder by'],
  ['master', 'A main, a matrix or a DCA rises by'],
  ['gain', 'Preamp gain rises on an audible path by'],
];

/** From where on a desk cautions: each threshold can be tightened, and none loosened. */
export function ThresholdsSheet({ desk, open, onClose }: { desk: DeskView; open: boolean; onClose: () => void }) {
  const done = useRunAndNotify();
  const [edit, { isLoading }] = useEditDeskMutation();
  const [own, setOwn] = useState<Thresholds | null>(null);
  const shown = own ?? desk.thresholds;
  const save = (thresholds: Thresholds) =>
    void done(edit({ id: desk.id, edit: { thresholds } }), () => `Thresholds of ${desk.name} saved.`).then(() => {
      setOwn(null);
      onClose();
    });
  return (
    <Sheet title={`${desk.name}: caution thresholds`} open={open} onClose={onClose}>
      <View style={styles.list}>
        <AppText tone="second">
          {desk.showLock
            ? 'The show is locked: they stay as they are until it is unlocked.'
            : 'In live mode, anything above these must be answered. You can lower them, not raise them.'}
        </AppText>
        {NAMES.map(([key, name]) => (
          <View key={key}>
            <AppText>{name}</AppText>
            <View style={styles.row}>
              <View style={styles.fill}>
                <ValueSlider
                  spec={{
                    kind: 'gain',
                    unit: 'dB',
                    min: 0,
                    max: DEFAULT_THRESHOLDS[key],
                    step: 0.5,
                    default: DEFAULT_THRESHOLDS[key],
                  }}
                  value={shown[key]}
                  name={name}
                  focusable
                  onMove={(value) => setOwn({ ...shown, [key]: value })}
                />
              </View>
              <AppText kind="value" style={styles.value}>
                {shown[key].toFixed(1)} dB
              </AppText>
            </View>
          </View>
        ))}
        <Action
          kind="main"
          title="Save"
          busy={isLoading}
          disabled={whyLocked(desk) || (own === null && 'Nothing has changed.')}
          onPress={() => save(shown)}
        />
        <Action title="Reset to defaults" disabled={whyLocked(desk)} onPress={() => save(DEFAULT_THRESHOLDS)} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  list: { gap: SPACE.s, paddingBottom: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center' },
  fill: { flex: 1, minWidth: 0 },
  value: { width: 64, textAlign: 'right' },
});
