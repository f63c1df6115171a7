import { skipToken } from '@reduxjs/toolkit/query';
import { StyleSheet, View } from 'react-native';

import { movedAway } from '@old-echo/core/library/apply-preset';
import type { Origin, PresetWhole } from '@old-echo/core/contracts/preset';
import { stripName, type Settings } from '@old-echo/core/desk/state';
import { joined, plural } from '@old-echo/core/desk/format-value';

import { useDesk } from '../store/use-live-desk';
import { useNewEditionMutation, useOriginsQuery } from '../store/api';
import { useAppSelector } from '../store/store';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Words } from '../ui/app-text';
import { useDo } from '../store/use-run-and-notify';
import { usePut } from '../components/use-stage-settings';
import { writtenBack } from './update-preset-from-strip';

/** Strips of the desk that came from a preset: which are still so, which moved away; all put back, or one written back. */
export function CameFrom({ preset }: { readonly preset: PresetWhole }) {
  const now = useDesk();
  const done = useDo();
  const by = useAppSelector((root) => root.place.who);
  const { data: origins = [] } = useOriginsQuery(now?.desk.id ?? skipToken);
  const [write] = useNewEditionMutation();
  const { put, busy } = usePut();
  const own = origins.filter(({ presetId }) => presetId === preset.id);
  if (!now || own.length === 0) return null;
  const { desk, state } = now;
  const name = (strip: string) => stripName(now.profile, state, strip);
  const moved = own.filter(({ landed }) => movedAway(now.profile, state, landed).length > 0);
  const back = (origin: Origin) => {
    const content = writtenBack(preset, now.profile, state, origin);
    if (!content) return;
    void done(
      write({
        id: preset.id,
        edition: { content, from: { deskId: desk.id, strip: origin.strip }, by, revision: preset.revision },
      }),
      () => `${preset.name} is now as it stands on ${name(origin.strip)}. The edition before can be had back.`,
    );
  };
  return (
    <Card edge={moved.length > 0 ? 'care' : 'done'}>
      <View testID="came-from">
        <Words kind="strong">
          {moved.length === 0
            ? `${joined(own.map(({ strip }) => name(strip)))} on ${desk.name} ${own.length === 1 ? 'is' : 'are'} as it landed`
            : `${joined(moved.map(({ strip }) => name(strip)))} moved away from it`}
        </Words>
        <Words tone="second">
          {plural(own.length, 'strip')} of {desk.name} came from this preset.
        </Words>
      </View>
      {moved.length > 0 ? (
        <View style={styles.row}>
          <Action
            title={moved.length === 1 ? 'Put it back' : `Put all ${moved.length} back`}
            busy={busy}
            disabled={!now.linked}
            onPress={() =>
              put({
                deskId: desk.id,
                title: `${preset.name} back on ${joined(moved.map(({ strip }) => name(strip)))}`,
                settings: Object.assign({}, ...moved.map(({ landed }) => landed)) as Settings,
                marks: moved.map(({ strip, edition }) => ({ strip, presetId: preset.id, edition })),
              })
            }
          />
          {moved.map((origin) => (
            <Action
              key={origin.strip}
              title={moved.length === 1 ? 'Write it back' : `Write back ${name(origin.strip)}`}
              onPress={() => back(origin)}
            />
          ))}
        </View>
      ) : null}
    </Card>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s } });
