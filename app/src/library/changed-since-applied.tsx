import { StyleSheet, View } from 'react-native';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { displayName, joinSettings } from '@old-echo/core/desk/state';
import { changedSinceApplied } from '@old-echo/core/library/apply-preset';
import { joinWithAnd, plural } from '@old-echo/core/phrases/format-value';

import { useStageSettings } from '../components/use-stage-settings';
import { useLazyPresetQuery, useNewEditionMutation, usePresetOriginsQuery } from '../store/library-api';
import { noticed } from '../store/notice-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { type LiveDesk, whyNotLinked } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { updatedContent } from './update-preset-from-strip';

/**
 * All strips of the desk that moved away from what they came from: put back, or written back, in one go. It comes once all is worked out:
 * it stands below what scrolls, so that nothing moves away under a finger.
 */
export function ChangedSinceApplied({
  now,
  presets,
}: {
  readonly now: LiveDesk;
  readonly presets: readonly PresetView[];
}) {
  const dispatch = useAppDispatch();
  const by = useAppSelector((root) => root.place.who);
  const { data: origins = [] } = usePresetOriginsQuery(now.desk.id);
  const [ask] = useLazyPresetQuery();
  const [write] = useNewEditionMutation();
  const { put, busy } = useStageSettings();
  const { desk, profile, state } = now;
  const moved = origins.filter(({ appliedSettings: landed }) => changedSinceApplied(profile, state, landed).length > 0);
  if (moved.length === 0) return null;
  const names = [...new Set(moved.map(({ strip }) => strip))].map((strip) => displayName(profile, state, strip));
  const writeAll = async () => {
    let [written, left] = [0, 0];
    for (const one of presets.filter(({ id }) => moved.some(({ presetId }) => presetId === id))) {
      const own = moved.filter(({ presetId }) => presetId === one.id);
      const preset = (await ask(one.id)).data;
      // Two strips that went two ways cannot both be what it holds.
      const [origin] = own;
      const content = own.length === 1 && preset && origin ? updatedContent(preset, profile, state, origin) : undefined;
      const from = { deskId: desk.id, strip: origin?.strip ?? '' };
      const done = content && (await write({ id: one.id, edition: { content, from, by, revision: one.revision } }));
      if (done?.data) written++;
      else left++;
    }
    const rest =
      left > 0
        ? ` ${plural(left, 'preset')} left alone: ${left === 1 ? 'its' : 'their'} strips changed in different ways.`
        : '';
    dispatch(noticed(`${plural(written, 'preset')} updated from the desk.${rest}`));
  };
  return (
    <View style={styles.around}>
      <Card edge="care">
        <AppText testID="changed-since-applied">
          {names.length > 4 ? plural(names.length, 'strip') : joinWithAnd(names)} on {desk.name} changed since{' '}
          {names.length === 1 ? 'its preset was' : 'their presets were'} applied.
        </AppText>
        <View style={styles.row}>
          <Action
            asks={DESK_ROUTES.moveSettings}
            title="Reset strips to presets"
            busy={busy}
            disabled={whyNotLinked(now)}
            onPress={() =>
              put({
                deskId: desk.id,
                title: `Presets again on ${plural(names.length, 'strip')}`,
                settings: joinSettings(moved.map(({ appliedSettings }) => appliedSettings)),
                appliedPresets: moved.map(({ strip, presetId, edition }) => ({ strip, presetId, edition })),
              })
            }
          />
          <Action
            asks={PRESET_ROUTES.updatePreset}
            title="Update presets from strips"
            onPress={() => void writeAll()}
          />
        </View>
      </Card>
    </View>
  );
}

const styles = StyleSheet.create({
  around: { paddingHorizontal: SPACE.l, paddingTop: SPACE.s },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
