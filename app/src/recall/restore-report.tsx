import { StyleSheet, View } from 'react-native';

import type { RestoreReport } from '@old-echo/core/contracts/restore';
import { readAddress } from '@old-echo/core/desk/address';
import { isManual } from '@old-echo/core/desk/manual';
import { specOf } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, joinWithAnd, plural } from '@old-echo/core/phrases/format-value';

import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** The first few settings by name, and how many more there are. */
const firstNames = (now: LiveDesk, addresses: readonly string[]): string => {
  const names = addresses.slice(0, 4).map((address) => nameOf(now, address));
  return addresses.length > 4 ? `${names.join(', ')} and ${addresses.length - 4} more` : joinWithAnd(names);
};

/** What did not go as it was to, and what nobody can be sure of. */
export function Report({ report, now }: { readonly report: RestoreReport; readonly now: LiveDesk }) {
  const { profile, state } = now;
  return (
    <>
      {report.leftMuted.length > 0 ? (
        <Card edge="stop">
          <AppText kind="strong">Still muted: {report.leftMuted.join(', ')}</AppText>
          <AppText tone="second">Unmute by hand, or use the way back.</AppText>
        </Card>
      ) : null}
      {report.handled.length > 0 ? (
        <Card edge="care">
          <AppText kind="strong">
            Moved by hand, left alone: {joinWithAnd(report.handled.slice(0, 6))}
            {report.handled.length > 6 ? ` and ${report.handled.length - 6} more` : ''}
          </AppText>
          <AppText tone="second">Someone moved these during the restore. From then on it left them alone.</AppText>
        </Card>
      ) : null}
      {report.jumped && report.jumped.length > 0 ? (
        <Card>
          <AppText kind="strong">{plural(report.jumped.length, 'setting')} could not fade</AppText>
          <AppText tone="second">{firstNames(now, report.jumped)} changed at once; all else faded.</AppText>
        </Card>
      ) : null}
      {report.unasked && report.unasked.length > 0 ? (
        <Card edge="care">
          <AppText kind="strong">{plural(report.unasked.length, 'setting')} sent, not confirmed</AppText>
          <AppText tone="second">
            This desk cannot be asked for {firstNames(now, report.unasked)}. Look at the desk itself.
          </AppText>
        </Card>
      ) : null}
      {report.unconfirmed.length > 0 ? (
        <Card>
          {report.unconfirmed.slice(0, 200).map(({ address, wanted, found, why }) => {
            const spec = specOf(profile, address);
            const strip = readAddress(address)?.strip ?? '';
            const show = (value: typeof found) => (spec && value !== null ? formatValue(spec, value) : 'unknown');
            return (
              <View key={address} style={styles.failure}>
                <AppText kind="strong">
                  {displayName(profile, state, strip)} · {fullSettingName(profile, address, state)}
                </AppText>
                <AppText kind="value" tone="second">
                  should be {show(wanted)}, {isManual(profile, strip) ? 'stands at' : 'last read'} {show(found)}
                </AppText>
                <AppText kind="small" tone="second">
                  {why}
                </AppText>
              </View>
            );
          })}
          {report.unconfirmed.length > 200 ? (
            <AppText tone="second">and {report.unconfirmed.length - 200} more</AppText>
          ) : null}
        </Card>
      ) : null}
    </>
  );
}

/** "Wren vox EQ on". */
const nameOf = ({ profile, state }: LiveDesk, address: string): string =>
  `${displayName(profile, state, readAddress(address)?.strip ?? '')} ${fullSettingName(profile, address, state)}`;

const styles = StyleSheet.create({ failure: { paddingVertical: SPACE.xs } });
