import type { Href } from 'expo-router';

import { readShape } from '@old-echo/core/contracts/read';
import { recallShape, type Recall } from '@old-echo/core/contracts/restore';

/** Where the preview of a recall is: all of it is in the address, so that it can be sent to someone else. */
export const previewHref = (recall: Recall): Href => {
  const { sceneId, placementId, ...rest } = recall;
  const where = placementId ? `/placements/${placementId}` : `/restore/${sceneId ?? ''}/preview`;
  return `${where}?recall=${encodeURIComponent(JSON.stringify(rest))}` as Href;
};

/** The recall in an address, or undefined where there is none that can be read. */
export function readRecall(
  source: { readonly sceneId: string } | { readonly placementId: string },
  text: string | undefined,
): Recall | undefined {
  try {
    return text ? readShape(recallShape, { ...source, ...(JSON.parse(text) as object) }) : undefined;
  } catch {
    return undefined;
  }
}
