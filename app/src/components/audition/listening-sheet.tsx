import { StyleSheet, View } from 'react-native';

import { displayName } from '@old-echo/core/desk/state';
import { OUTPUT_FAMILIES } from '@old-echo/core/signal/path-gain';
import { PAN_LAWS } from '@old-echo/core/sound/pan-law';

import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { Option } from '../../ui/option';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import type { Audition } from './use-audition';

interface HeardSheetProps {
  readonly audition: Audition;
  readonly onClose: () => void;
}

const LAWS = { 'constant power': '−3 dB', linear: '−6 dB', compromise: '−4.5 dB' };

/** What is listened to of A and B: which output, one strip or all, and how panning is worked out. */
export function ListeningSheet({ audition, onClose }: HeardSheetProps) {
  const { a, heard, choose } = audition;
  const { profile, state } = a;
  const outputs = OUTPUT_FAMILIES.flatMap((id) => profile.families.find((family) => family.id === id)?.strips ?? []);
  return (
    <Sheet title="Listen to" open onClose={onClose}>
      <View style={styles.body}>
        {heard.solo === null ? null : (
          <View style={styles.row}>
            <AppText style={styles.fill}>Only {displayName(profile, state, heard.solo)} is heard.</AppText>
            <Action kind="small" title="Clear solo" onPress={() => choose({ solo: null })} />
          </View>
        )}
        <AppText kind="small" tone="second">
          Pan law
        </AppText>
        <View style={styles.row} role="tablist">
          {PAN_LAWS.map((law) => (
            <Chip key={law} title={LAWS[law]} chosen={heard.law === law} onPress={() => choose({ law })} />
          ))}
        </View>
        <View role="radiogroup">
          {outputs.map((output) => (
            <Option
              key={output}
              title={displayName(profile, state, output)}
              chosen={heard.output === output}
              onPress={() => {
                choose({ output });
                onClose();
              }}
            />
          ))}
        </View>
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  body: { gap: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  fill: { flex: 1, minWidth: 0 },
});
