import type { Href } from 'expo-router';

import { type Recall, recallShape } from '@old-echo/core/contracts/restore';
import { isRecord } from '@old-echo/core/fault/is-record';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import { deskHref } from '../../store/desk-address';

/** What a recall is made from, as far as it is in the path of its address. */
type RecallSource = Pick<Recall, 'deskId'> &
  ({ readonly sceneId: string } | { readonly stagedSettingsId: string } | { readonly baseline: true });

/** Where the preview of a recall is: all of it is in the address, its desk too, so that it can be sent to someone else. */
export const previewHref = (recall: Recall): Href => {
  const { deskId, sceneId, stagedSettingsId, baseline, ...rest } = recall;
  const where = stagedSettingsId
    ? `staged-settings/${stagedSettingsId}`
    : baseline
      ? 'put-back'
      : `restore/${sceneId ?? ''}/preview`;
  return deskHref(deskId, `${where}?recall=${encodeURIComponent(JSON.stringify(rest))}`);
};

/** The recall in an address, or undefined where there is none that can be read. */
export function readRecall(source: RecallSource, text: string | undefined): Recall | undefined {
  try {
    const rest: unknown = text && JSON.parse(text);
    return isRecord(rest) ? parseShape(recallShape, { ...rest, ...source }) : undefined;
  } catch {
    return undefined;
  }
}
