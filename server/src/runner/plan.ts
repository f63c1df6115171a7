import { preview, type Preview } from '@old-echo/core/preview/preview';
import type { Scope } from '@old-echo/core/scope/rules';

import type { Database } from '../database/connect';
import { deskRow, safesOf } from '../desks/store';
import { loadState } from '../scenes/strip-states';
import type { DeskSession } from '../sessions/session';

/** What restoring a scene would do to the desk as it is at this moment. @throws Fault `link-lost` */
export async function previewRestore(
  db: Database,
  session: DeskSession,
  sceneId: string,
  scope: Scope,
): Promise<Preview> {
  session.mustBeLinked();
  const [desk, target] = await Promise.all([deskRow(db, session.deskId), loadState(db, sceneId)]);
  return preview({ profile: session.profile, now: session.state, target, scope, safes: safesOf(desk) });
}
