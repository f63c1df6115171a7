import { useRouter } from 'expo-router';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { isBus } from '@old-echo/core/library/preset';
import { plural } from '@old-echo/core/phrases/format-value';

import { usePresetsQuery } from '../../store/library-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Icon } from '../../ui/icon';
import { Card } from '../../ui/layout';
import { IconAction } from '../../ui/menu';
import { SPACE, TOUCH } from '../../ui/tokens';
import { useTriedPreset } from './use-tried-preset';

const STRIP_PRESETS = 'Whole strip';

/** Presets that fit a strip, by what they are of: whole strips or buses, then each kind of processor. */
function fittingPresets(presets: readonly PresetView[], strip: string): Map<string, PresetView[]> {
  const whole = isBus(strip) ? 'bus' : 'strip';
  const groups = new Map<string, PresetView[]>();
  for (const preset of presets) {
    if (preset.binnedAt || (preset.kind !== whole && preset.kind !== 'processor')) continue;
    const group = preset.kind === whole ? STRIP_PRESETS : preset.gist;
    groups.set(group, [...(groups.get(group) ?? []), preset]);
  }
  return new Map([...groups].sort(([one], [other]) => rank(one) - rank(other) || one.localeCompare(other)));
}

const rank = (group: string): number => (group === STRIP_PRESETS ? 0 : 1);

interface TryPresetsProps {
  readonly now: LiveDesk;
  readonly strip: string;
}

/** One preset after the other on a strip while the song plays, and back to what it was at one touch. */
export function TryPresets({ now, strip }: TryPresetsProps) {
  const { data: presets } = usePresetsQuery();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const { preset, turnTo, putBack, keep, told, level, stopped, isAtOnce, isMatched, match } = useTriedPreset(
    now,
    strip,
  );
  const groups = fittingPresets(presets ?? [], strip);
  const group = chosen ?? [...groups.keys()][0] ?? '';
  const list = groups.get(group) ?? [];
  // While they are read it has its place already: nothing moves away under a finger.
  if ((presets && groups.size === 0) || !now.linked || now.desk.showLock) return null;
  const at = list.findIndex(({ id }) => id === preset?.id);
  const step = (by: -1 | 1) => {
    const next = list.at(at >= 0 ? at + by : by > 0 ? 0 : -1);
    if (next) turnTo(next);
  };
  return (
    <Card tight>
      <Pressable role="button" aria-expanded={open} onPress={() => setOpen(!open)} style={styles.head}>
        <Icon of={open ? ChevronDown : ChevronRight} />
        <AppText kind="heading" style={styles.fill}>
          Try presets
        </AppText>
        <AppText kind="small" tone="second">
          {presets ? plural([...groups.values()].flat().length, 'fits', 'fit') : ' '}
        </AppText>
      </Pressable>
      {open ? (
        <>
          <ChipRow role="tablist">
            {[...groups].map(([one, all]) => (
              <Chip key={one} title={`${one} ${all.length}`} chosen={one === group} onPress={() => setChosen(one)} />
            ))}
          </ChipRow>
          {isMatched === undefined ? null : (
            <View style={styles.match}>
              <Chip toggle title="Level-matched" chosen={isMatched} onPress={() => match(!isMatched)} />
            </View>
          )}
          <View style={styles.row}>
            <IconAction
              asks={DESK_ROUTES.moveSettings}
              of={ChevronLeft}
              name="Previous preset"
              disabled={at === 0 && 'This is the first one.'}
              onPress={() => step(-1)}
            />
            <AppText kind="strong" numberOfLines={2} style={styles.name} testID="tried" aria-live="polite">
              {preset?.name ?? (isAtOnce ? 'Each is heard at once' : 'Each opens its preview')}
            </AppText>
            <IconAction
              asks={DESK_ROUTES.moveSettings}
              of={ChevronRight}
              name="Next preset"
              disabled={at === list.length - 1 && 'This is the last one.'}
              onPress={() => step(1)}
            />
          </View>
          {told || level ? (
            <AppText kind="small" tone={stopped ? 'stop' : 'second'} style={styles.name} aria-live="polite">
              {[told, stopped ? '' : level].filter(Boolean).join(' ')}
            </AppText>
          ) : null}
          {preset ? (
            <View style={styles.row}>
              {stopped ? (
                <Action kind="quiet" title="Open its preview" onPress={() => router.navigate(stopped)} />
              ) : null}
              <Action kind="quiet" title="As it was" onPress={putBack} />
              <Action kind="quiet" title="Keep it" onPress={keep} />
            </View>
          ) : null}
        </>
      ) : null}
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  head: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: TOUCH },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'center' },
  name: { flex: 1, textAlign: 'center' },
  match: { flexDirection: 'row', marginTop: SPACE.s },
});
