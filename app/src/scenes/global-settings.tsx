import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { type Profile } from '@old-echo/core/desk/profile';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import type { State } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { Card } from '../ui/layout';
import { SPACE, TOUCH } from '../ui/tokens';

/** The settings of the whole desk as a scene holds them, marked as what never comes back by itself. */
export function Globals({ profile, state }: { readonly profile: Profile; readonly state: State }) {
  const [open, setOpen] = useState(false);
  const family = profile.families.find((f) => f.id === GLOBAL_FAMILY);
  const strip = family?.strips[0];
  const held = family?.keys.filter((key) => strip && state[strip]?.[key] !== undefined) ?? [];
  if (!family || !strip || held.length === 0) return null;
  return (
    <Card tight>
      <Pressable role="button" aria-expanded={open} onPress={() => setOpen(!open)} style={styles.head}>
        <Icon of={open ? ChevronDown : ChevronRight} />
        <View style={styles.fill}>
          <AppText kind="strong">Globals</AppText>
          <AppText kind="small" tone="care">
            Saved; restored only when asked for
          </AppText>
        </View>
      </Pressable>
      {open
        ? held.map((key) => {
            const spec = family.settings[key];
            return (
              <View key={key} style={styles.row}>
                <AppText tone="second" style={styles.fill} numberOfLines={1}>
                  {fullSettingName(profile, `${strip}/${key}`)}
                </AppText>
                <AppText kind="value">{spec ? formatValue(spec, state[strip]?.[key]) : ''}</AppText>
              </View>
            );
          })
        : null}
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  head: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH + SPACE.xs, gap: SPACE.xs },
  row: { flexDirection: 'row', alignItems: 'center', minHeight: 28, gap: SPACE.s },
});
