import { useRouter } from 'expo-router';

import { changedSinceApplied } from '@old-echo/core/library/apply-preset';
import { plural } from '@old-echo/core/desk/format-value';

import type { LiveDesk } from '../../store/use-live-desk';
import { useForgetOriginMutation, useOriginsQuery } from '../../store/api';
import { Action } from '../../ui/buttons';
import { Card } from '../../ui/layout';
import { AppText } from '../../ui/app-text';

/** The presets a strip came from, and how far it has moved away from each. */
export function StripOrigin({ now, strip }: { readonly now: LiveDesk; readonly strip: string }) {
  const router = useRouter();
  const { data: origins = [] } = useOriginsQuery(now.desk.id);
  const [forget] = useForgetOriginMutation();
  return origins
    .filter((origin) => origin.strip === strip)
    .map(({ presetId, presetName, landed }) => {
      const moved = changedSinceApplied(now.profile, now.state, landed).length;
      return (
        <Card key={presetId} edge={moved > 0 ? 'care' : 'done'}>
          <AppText testID="strip-origin">
            {moved === 0 ? 'As ' : `${plural(moved, 'setting')} moved away from `}
            <AppText kind="strong">{presetName}</AppText>
            {moved === 0 ? ' has it.' : '.'}
          </AppText>
          <Action kind="quiet" title={`Open ${presetName}`} onPress={() => router.navigate(`/library/${presetId}`)} />
          <Action
            kind="quiet"
            title="Forget where it came from"
            onPress={() => void forget({ desk: now.desk.id, strip, preset: presetId })}
          />
        </Card>
      );
    });
}
