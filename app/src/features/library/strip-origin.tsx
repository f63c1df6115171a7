import { useRouter } from 'expo-router';

import { movedAway } from '@old-echo/core/carry/put';
import { plural } from '@old-echo/core/desk/wording';

import type { DeskNow } from '../../live/use-desk';
import { useForgetOriginMutation, useOriginsQuery } from '../../store/api';
import { Action } from '../../ui/actions';
import { Card } from '../../ui/page';
import { Words } from '../../ui/words';

/** The presets a strip came from, and how far it has moved away from each. */
export function StripOrigin({ now, strip }: { readonly now: DeskNow; readonly strip: string }) {
  const router = useRouter();
  const { data: origins = [] } = useOriginsQuery(now.desk.id);
  const [forget] = useForgetOriginMutation();
  return origins
    .filter((origin) => origin.strip === strip)
    .map(({ presetId, presetName, landed }) => {
      const moved = movedAway(now.profile, now.state, landed).length;
      return (
        <Card key={presetId} edge={moved > 0 ? 'care' : 'done'}>
          <Words testID="strip-origin">
            {moved === 0 ? 'As ' : `${plural(moved, 'setting')} moved away from `}
            <Words kind="strong">{presetName}</Words>
            {moved === 0 ? ' has it.' : '.'}
          </Words>
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
