import { StyleSheet, View } from 'react-native';

import type { Profile } from '@old-echo/core/desk/profile';
import { stripFamily } from '@old-echo/core/desk/profile';
import type { StripState } from '@old-echo/core/desk/state';
import { capitalise, formatValue, sectionName, settingName } from '@old-echo/core/phrases/format-value';
import { insertChain } from '@old-echo/core/signal/insert-chain';
import { compressorCurve, gateCurve } from '@old-echo/core/signal/static-curve';

import { EqChart } from '../components/eq-chart';
import { StaticCurveChart } from '../components/static-curve-chart';
import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { CORNER, SPACE } from '../ui/tokens';

interface PresetPicturesProps {
  readonly profile: Profile;
  readonly strip: string;
  readonly settings: StripState;
  /** The strip it would land on, as it is: drawn as the echo. */
  readonly was?: StripState;
}

/** What a strip does to a sound: its curves, then its chain of inserts in order, then an effect’s own settings. */
export function PresetPictures({ profile, strip, settings, was }: PresetPicturesProps) {
  const look = useLook();
  const chain = insertChain(settings);
  const effect = Object.keys(settings).filter(
    (key) => /^inserts\/[a-z]+$/.test(key) && settings['inserts/kind'] !== undefined,
  );
  const family = stripFamily(profile, strip);
  const has = (key: string) => settings[key] === true || was?.[key] === true;
  return (
    <View style={styles.pictures}>
      {has('eq/on') || has('preamp/lowcut/on') ? (
        <Picture title={sectionName('eq')}>
          <EqChart now={settings} was={was} />
        </Picture>
      ) : null}
      {has('compressor/on') ? (
        <Picture title={sectionName('compressor')} under={valuesOf(family?.settings, settings, 'compressor')}>
          <StaticCurveChart of={compressorCurve} was={was} now={settings} name="Compressor, in and out" />
        </Picture>
      ) : null}
      {has('gate/on') ? (
        <Picture title={sectionName('gate')} under={valuesOf(family?.settings, settings, 'gate')}>
          <StaticCurveChart of={gateCurve} was={was} now={settings} name="Gate, in and out" />
        </Picture>
      ) : null}
      {chain.length > 0 ? (
        <Picture title={sectionName('inserts')}>
          {chain.map(({ place, kind, on }) => (
            <View key={place} style={[styles.slot, { borderColor: look.line }]}>
              <AppText kind="strong">
                {place} {capitalise(kind)}
                {on ? '' : ' · off'}
              </AppText>
              <AppText kind="value" tone="second">
                {valuesOf(family?.settings, settings, `inserts/${place}/${kind}`)}
              </AppText>
            </View>
          ))}
        </Picture>
      ) : null}
      {effect.length > 0 ? (
        <Picture title="Effect">
          {effect.map((key) => {
            const spec = family?.settings[key];
            return spec ? (
              <View key={key} style={styles.pair}>
                <AppText tone="second">{settingName(profile, key)}</AppText>
                <AppText kind="value">{formatValue(spec, settings[key])}</AppText>
              </View>
            ) : null;
          })}
        </Picture>
      ) : null}
    </View>
  );
}

function Picture({ title, under, children }: { title: string; under?: string; children: React.ReactNode }) {
  return (
    <View style={styles.picture}>
      <AppText kind="strong">{title}</AppText>
      {children}
      {under ? (
        <AppText kind="value" tone="second">
          {under}
        </AppText>
      ) : null}
    </View>
  );
}

/** "threshold −24.0 dB · ratio 3.5 : 1", of what is under a key. */
function valuesOf(
  specs: NonNullable<ReturnType<typeof stripFamily>>['settings'] | undefined,
  settings: StripState,
  under: string,
): string {
  return Object.entries(settings)
    .flatMap(([key, value]) => {
      const spec = key.startsWith(`${under}/`) && !key.endsWith('/on') ? specs?.[key] : undefined;
      return spec ? [`${key.slice(under.length + 1)} ${formatValue(spec, value)}`] : [];
    })
    .join(' · ');
}

const styles = StyleSheet.create({
  pictures: { gap: SPACE.m },
  picture: { gap: SPACE.xs },
  slot: { borderWidth: 1, borderRadius: CORNER.small, padding: SPACE.s },
  pair: { flexDirection: 'row', justifyContent: 'space-between' },
});
