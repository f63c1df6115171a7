import { useRouter } from 'expo-router';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { changedSinceApplied } from '@old-echo/core/library/apply-preset';
import { plural } from '@old-echo/core/phrases/format-value';

import { useForgetPresetOriginMutation, usePresetOriginsQuery } from '../../store/library-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { Card } from '../../ui/layout';

/** The presets a strip came from, and how far it has moved away from each. */
export function StripOrigin({ now, strip }: { readonly now: LiveDesk; readonly strip: string }) {
  const router = useRouter();
  const { data: origins = [] } = usePresetOriginsQuery(now.desk.id);
  const [forget] = useForgetPresetOriginMutation();
  return origins
    .filter((origin) => origin.strip === strip)
    .map(({ presetId, presetName, appliedSettings: landed }) => {
      const moved = changedSinceApplied(now.profile, now.state, landed).length;
      return (
        <Card key={presetId} edge={moved > 0 ? 'care' : 'done'}>
          <AppText testID="strip-origin">
            {moved === 0 ? 'Matches ' : `${plural(moved, 'setting')} ${moved === 1 ? 'differs' : 'differ'} from `}
            <AppText kind="strong">{presetName}</AppText>.
          </AppText>
          <Action kind="quiet" title={`Open ${presetName}`} onPress={() => router.navigate(`/library/${presetId}`)} />
          <Action
            asks={DESK_ROUTES.moveSettings}
            kind="quiet"
            title="Forget this preset"
            onPress={() => void forget({ desk: now.desk.id, strip, preset: presetId })}
          />
        </Card>
      );
    });
}
