import type { ConversionPreview, ConversionRequest, NamedMatch } from '@old-echo/core/contracts/conversion';
import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, displayName, filled, type State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { type ConvertedScene, convertScene } from '@old-echo/core/library/convert-scene';
import { type Match, matchStrips } from '@old-echo/core/library/match-strips';
import { conversionReport, type ReportLine } from '@old-echo/core/phrases/conversion-report';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import type { SceneRow } from '../database/tables';
import type { DeskConnections } from '../desk/desk-connections';
import { deskRow } from '../desk/desk-store';
import { readStoredProfile } from '../desk/profile-store';
import { loadState } from '../desk/scene-states';
import { profileOfProduction } from '../scenes/production-store';
import { loadParts } from './part-store';

type Hands = Readonly<Record<string, string | null>>;

/** A scene that is carried over, as it stands in its own production. */
export type Carried = Pick<SceneRow, 'id' | 'version_id' | 'number' | 'name' | 'note' | 'milestone' | 'made_at'>;

/** Everything that is needed to carry scenes over: both desks, who goes where, and the scenes in order. */
export interface ConversionPlan {
  readonly from: Profile;
  readonly to: Profile;
  readonly deskName: string;
  readonly matches: readonly Match[];
  readonly names: readonly NamedMatch[];
  readonly scenes: readonly Carried[];
  readonly carry: (scene: State) => ConvertedScene;
  readonly linesOf: (carried: ConvertedScene, names: State) => ReportLine[];
}

/** What hands decided when something of this production went to that desk before. */
async function loadManualMatches(db: Database, productionId: string, deskId: string): Promise<Hands> {
  const row = await db('strip_matches').where({ production_id: productionId, desk_id: deskId }).first('manual_matches');
  return row ? fromJson(row.manual_matches) : {};
}

export const saveManualMatches = (db: Database, productionId: string, deskId: string, hands: Hands): Promise<unknown> =>
  db('strip_matches')
    .insert({ production_id: productionId, desk_id: deskId, manual_matches: toJson(hands) })
    .onConflict(['production_id', 'desk_id'])
    .merge();

/**
 * Who goes where, and what would come of it. Strips are matched as they are called in the newest of the scenes and on the other
 * desk as it was last heard.
 * @throws Fault `not-found`, `refused-input` where there is nothing to carry, or a hand names a strip that is not there
 */
export async function planConversion(
  db: Database,
  sessions: DeskConnections,
  request: ConversionRequest,
): Promise<ConversionPlan> {
  const { productionId, deskId, versionId, sceneId, withPatch, without } = request;
  const from = await profileOfProduction(db, productionId);
  const desk = await deskRow(db, deskId);
  const to = await readStoredProfile(db, desk.profile_id);
  const scenes = await db('scenes')
    .join('versions', 'versions.id', 'scenes.version_id')
    .where('scenes.production_id', productionId)
    .whereNull('scenes.binned_at')
    .whereNull('versions.binned_at')
    .where((q) => {
      if (sceneId !== null) void q.where('scenes.id', sceneId);
      else void q.where({ kind: 'scene' });
      if (versionId !== null) void q.where({ version_id: versionId });
    })
    .orderBy('scenes.ordinal')
    .select<SceneRow[]>('scenes.*');
  const last = scenes.at(-1);
  if (!last)
    throw new Fault(
      'refused-input',
      'There is no scene to carry over.',
      'Choose a version that has scenes.',
      'versionId',
    );
  const hands = { ...(await loadManualMatches(db, productionId, deskId)), ...request.hands };
  const stranger = Object.entries(hands).find(
    ([strip, onto]) => !from.strips.includes(strip) || (onto !== null && !to.strips.includes(onto)),
  );
  if (stranger)
    throw new Fault(
      'refused-input',
      `${stranger[0]} cannot go to ${stranger[1] ?? 'nothing'}: one of the desks has no such strip.`,
      'Choose another strip.',
      `hands.${stranger[0]}`,
    );
  if (from.families.every(({ sections }) => sections.every((section) => without.includes(section))))
    throw new Fault('refused-input', 'Every section stays behind.', 'Choose at least one that comes along.', 'without');
  const base = sessions.of(deskId).state;
  // Of a desk that was never heard only its strips are known.
  const there = filled(base, defaultState(to));
  const [names, parts, toParts] = [
    await loadState(db, last.id),
    await loadParts(db, productionId),
    await partsOnDesk(db, deskId),
  ];
  const matches = matchStrips(
    { profile: from, state: names, parts },
    { profile: to, state: there, parts: toParts },
    hands,
  );
  return {
    from,
    to,
    deskName: desk.name,
    matches,
    names: matches.map((match) => ({
      ...match,
      fromName: displayName(from, names, match.from),
      fromPart: parts[match.from] ?? null,
      toName: match.to === null ? '' : displayName(to, base, match.to),
    })),
    scenes,
    carry: (scene) => convertScene(from, scene, to, matches, { withPatch, without }),
    linesOf: ({ notes }, own) =>
      conversionReport(from, to, notes, (onto) => matches.find((match) => match.to === onto)?.from ?? onto, own),
  };
}

/** The parts of what is played on a desk: of its first production that names any. */
async function partsOnDesk(db: Database, deskId: string): Promise<Readonly<Record<string, string>>> {
  const rows = await db('parts')
    .join('productions', 'productions.id', 'parts.production_id')
    .where({ desk_id: deskId })
    .whereNull('binned_at')
    .orderBy('place')
    .select('production_id', 'strip', 'part');
  return Object.fromEntries(
    rows
      .filter(({ production_id }) => production_id === rows[0]?.production_id)
      .map(({ strip, part }) => [strip, part]),
  );
}

export async function previewConversion(
  db: Database,
  sessions: DeskConnections,
  request: ConversionRequest,
): Promise<ConversionPreview> {
  const plan = await planConversion(db, sessions, request);
  const state = await loadState(db, plan.scenes.at(-1)?.id ?? '');
  const carried = plan.carry(state);
  return {
    matches: plan.names,
    lines: plan.linesOf(carried, state),
    scenes: plan.scenes.length,
    settings: carried.settings,
  };
}
