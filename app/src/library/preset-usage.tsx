import { skipToken } from '@reduxjs/toolkit/query';
import { StyleSheet, View } from 'react-native';

import type { PresetDetail, PresetOrigin } from '@old-echo/core/contracts/preset';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { displayName, joinSettings } from '@old-echo/core/desk/state';
import { changedSinceApplied } from '@old-echo/core/library/apply-preset';
import { joinWithAnd, plural } from '@old-echo/core/phrases/format-value';

import { useStageSettings } from '../components/use-stage-settings';
import { useNewEditionMutation, usePresetOriginsQuery } from '../store/library-api';
import { useAppSelector } from '../store/store';
import { useLiveDesk, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { updatedContent } from './update-preset-from-strip';

/** Strips of the desk that came from a preset: which are still so, which moved away; all put back, or one written back. */
export function PresetUsage({ preset }: { readonly preset: PresetDetail }) {
  const now = useLiveDesk();
  const done = useRunAndNotify();
  const by = useAppSelector((root) => root.place.who);
  const { data: origins = [] } = usePresetOriginsQuery(now?.desk.id ?? skipToken);
  const [write] = useNewEditionMutation();
  const { put, busy } = useStageSettings();
  const own = origins.filter(({ presetId }) => presetId === preset.id);
  if (!now || own.length === 0) return null;
  const { desk, state } = now;
  const name = (strip: string) => displayName(now.profile, state, strip);
  const moved = own.filter(({ appliedSettings: landed }) => changedSinceApplied(now.profile, state, landed).length > 0);
  const back = (origin: PresetOrigin) => {
    const content = updatedContent(preset, now.profile, state, origin);
    if (!content) return;
    void done(
      write({
        id: preset.id,
        edition: { content, from: { deskId: desk.id, strip: origin.strip }, by, revision: preset.revision },
      }),
      () => `${preset.name} updated from ${name(origin.strip)}. The earlier edition is still there.`,
    );
  };
  return (
    <Card edge={moved.length > 0 ? 'care' : 'done'}>
      <View testID="preset-usage">
        <AppText kind="strong">
          {moved.length === 0
            ? `${joinWithAnd(own.map(({ strip }) => name(strip)))} on ${desk.name}: unchanged since applied`
            : `${joinWithAnd(moved.map(({ strip }) => name(strip)))} on ${desk.name}: changed since applied`}
        </AppText>
        <AppText tone="second">
          Applied to {plural(own.length, 'strip')} of {desk.name}.
        </AppText>
      </View>
      {moved.length > 0 ? (
        <View style={styles.row}>
          <Action
            asks={DESK_ROUTES.moveSettings}
            title={moved.length === 1 ? 'Reset strip to preset' : `Reset ${plural(moved.length, 'strip')} to preset`}
            busy={busy}
            disabled={whyNotLinked(now)}
            onPress={() =>
              put({
                deskId: desk.id,
                title: `${preset.name} again on ${joinWithAnd(moved.map(({ strip }) => name(strip)))}`,
                settings: joinSettings(moved.map(({ appliedSettings }) => appliedSettings)),
                appliedPresets: moved.map(({ strip, edition }) => ({ strip, presetId: preset.id, edition })),
              })
            }
          />
          {moved.map((origin) => (
            <Action
              asks={PRESET_ROUTES.updatePreset}
              key={origin.strip}
              title={moved.length === 1 ? 'Update preset from strip' : `Update preset from ${name(origin.strip)}`}
              onPress={() => back(origin)}
            />
          ))}
        </View>
      ) : null}
    </Card>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s } });
