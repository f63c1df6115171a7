import { type Href, useRouter } from 'expo-router';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useRef, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { withHalves } from '@old-echo/core/desk/linked-pair';
import type { Value } from '@old-echo/core/desk/setting';
import { displayName, type SettingsByAddress, type State, valueAt } from '@old-echo/core/desk/state';
import { putOnStrips } from '@old-echo/core/library/apply-preset';
import { isBus, PROCESSORS } from '@old-echo/core/library/preset';
import { plural } from '@old-echo/core/phrases/format-value';

import { useLazyProfileQuery } from '../../store/desk-api';
import { useLazyPresetQuery, usePresetsQuery } from '../../store/library-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { useRunAndNotify } from '../../store/use-run-and-notify';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Icon } from '../../ui/icon';
import { Card } from '../../ui/layout';
import { IconAction } from '../../ui/menu';
import { SPACE, TOUCH } from '../../ui/tokens';
import { useStageSettings } from '../use-stage-settings';

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

interface Tried {
  /** The strips as they were before the first. */
  readonly before: State;
  readonly preset: PresetView;
}

interface TryPresetsProps {
  readonly now: LiveDesk;
  readonly strip: string;
}

/**
 * One preset after the other on a strip while the song plays, its processing only: each on what the strip was, so that none hides in
 * the next; and back to that at one touch.
 */
export function TryPresets({ now, strip }: TryPresetsProps) {
  const { desk, profile, state, linked } = now;
  const { data: presets } = usePresetsQuery();
  const [fetchPreset] = useLazyPresetQuery();
  const [fetchProfile] = useLazyProfileQuery();
  const done = useRunAndNotify();
  const { put, isAtOnce } = useStageSettings();
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const [tried, setTried] = useState<Tried | null>(null);
  // The one touched last: what was read for one that another took the place of is put nowhere.
  const latest = useRef<Tried | null>(null);
  // What presets have moved since the first, as it was before.
  const moved = useRef<Record<string, Value>>({});
  const [told, setTold] = useState('');
  // Where its preview is, of one that has to be looked at first.
  const [stopped, setStopped] = useState<Href | null>(null);
  const router = useRouter();
  const groups = fittingPresets(presets ?? [], strip);
  const group = chosen ?? [...groups.keys()][0] ?? '';
  const list = groups.get(group) ?? [];
  // While they are read it has its place already: nothing moves away under a finger.
  if ((presets && groups.size === 0) || !linked || desk.showLock) return null;
  const strips = withHalves(profile, state, [strip]);
  const name = displayName(profile, state, strip);
  const at = list.findIndex(({ id }) => id === tried?.preset.id);
  /** Puts settings on the strips, and whatever presets moved before them back to what it was. */
  const land = (settings: SettingsByAddress, preset: PresetView | null) =>
    put(
      {
        deskId: desk.id,
        title: preset ? `${preset.name} on ${name}` : `${name} as it was`,
        settings: { ...moved.current, ...settings },
        appliedPresets: preset
          ? strips.map((one) => ({ strip: one, presetId: preset.id, edition: preset.edition }))
          : [],
      },
      undefined,
      { tell: setTold, onStopped: setStopped },
    );
  /** Answers the touch before anything is read, so that the next one goes on from there. */
  const turnTo = (next: Tried | null) => {
    latest.current = next;
    setTried(next);
    setTold('');
    setStopped(null);
  };
  const tryNext = async (by: number) => {
    const preset = list[at < 0 ? (by > 0 ? 0 : list.length - 1) : at + by];
    if (!preset) return;
    const before = tried?.before ?? Object.fromEntries(strips.map((one) => [one, state[one] ?? {}]));
    const next = { before, preset };
    if (!tried) moved.current = {};
    turnTo(next);
    const detail = await done(fetchPreset(preset.id, true), () => '');
    const of = detail && (await done(fetchProfile(detail.profileId, true), () => ''));
    if (latest.current !== next) return;
    if (!detail || !of) return turnTo(tried);
    const source = { kind: detail.kind, profile: of, content: detail.content };
    const { settings } = putOnStrips(source, profile, before, strips, {
      sections: new Set(PROCESSORS),
      withPatch: false,
    });
    land(settings, preset);
    for (const address of Object.keys(settings)) {
      const value = valueAt(before, address);
      if (value !== undefined) moved.current[address] = value;
    }
  };
  const putBack = () => {
    turnTo(null);
    if (Object.keys(moved.current).length > 0) land({}, null);
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
          <View style={styles.row}>
            <IconAction
              of={ChevronLeft}
              name="Previous preset"
              disabled={at === 0 && 'This is the first one.'}
              onPress={() => void tryNext(-1)}
            />
            <AppText kind="strong" numberOfLines={2} style={styles.name} testID="tried" aria-live="polite">
              {tried?.preset.name ?? (isAtOnce ? 'Each is heard at once' : 'Each opens its preview')}
            </AppText>
            <IconAction
              of={ChevronRight}
              name="Next preset"
              disabled={at === list.length - 1 && 'This is the last one.'}
              onPress={() => void tryNext(1)}
            />
          </View>
          {told ? (
            <AppText kind="small" tone={stopped ? 'stop' : 'second'} style={styles.name} aria-live="polite">
              {told}
            </AppText>
          ) : null}
          {tried ? (
            <View style={styles.row}>
              {stopped ? (
                <Action kind="quiet" title="Open its preview" onPress={() => router.navigate(stopped)} />
              ) : null}
              <Action kind="quiet" title="As it was" onPress={putBack} />
              <Action kind="quiet" title="Keep it" onPress={() => setTried(null)} />
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
});
