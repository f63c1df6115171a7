import type { AppliedPreset, NewStagedSettings, PresetOrigin, StagedSettings } from '@old-echo/core/contracts/preset';
import { type State, validateSettings, valueAt } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { PresetOriginRow } from '../database/tables';
import { deskRow } from '../desk/desk-store';
import { readStoredProfile } from '../desk/profile-store';

/** What nobody has put on its desk after this long goes, in ms: a preview is looked at today or tomorrow. */
const KEPT = 7 * 24 * 3_600_000;

/**
 * Keeps settings that are to be put on a desk, so that they can be previewed, heard, sent to someone, and restored.
 * @throws Fault `not-found`, `refused-input` with the first address that the desk does not have or whose value it would refuse
 */
export async function stageSettings(
  db: Database,
  { deskId, title, settings, appliedPresets, gainFromOtherSource }: NewStagedSettings,
): Promise<StagedSettings> {
  const desk = await deskRow(db, deskId);
  const taken = validateSettings(await readStoredProfile(db, desk.profile_id), settings);
  await db('staged_settings')
    .where('made_at', '<', new Date(new Date().getTime() - KEPT))
    .delete();
  const id = newId();
  await db('staged_settings').insert({
    id,
    desk_id: deskId,
    title,
    settings: toJson(taken),
    applied_presets: toJson(appliedPresets),
    gain_from_other_source: gainFromOtherSource,
    made_at: new Date(),
  });
  return stagedSettings(db, id);
}

/** @throws Fault `not-found` */
export async function stagedSettings(db: Database, id: string): Promise<StagedSettings> {
  const row = await db('staged_settings').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This preview no longer exists.', 'Prepare it again from the library.');
  return {
    id,
    deskId: row.desk_id,
    title: row.title,
    settings: fromJson(row.settings),
    appliedPresets: fromJson(row.applied_presets),
    gainFromOtherSource: row.gain_from_other_source === 1,
  };
}

/** Notes which strips of a desk now come from which presets, and as what. */
export async function recordPresetOrigins(db: Database, deskId: string, id: string): Promise<void> {
  const { appliedPresets, settings } = await stagedSettings(db, id);
  const known = await db('presets')
    .whereIn(
      'id',
      appliedPresets.map(({ presetId }) => presetId),
    )
    .pluck('id');
  const rows = appliedPresets
    .filter(({ presetId }) => known.includes(presetId))
    .map(({ strip, presetId, edition }) => ({
      desk_id: deskId,
      strip,
      preset_id: presetId,
      edition,
      applied_settings: toJson(
        Object.fromEntries(Object.entries(settings).filter(([address]) => address.startsWith(`${strip}/`))),
      ),
    }));
  if (rows.length > 0) await db('preset_origins').insert(rows).onConflict(['desk_id', 'strip', 'preset_id']).merge();
}

/** Strips of a desk that came from presets which are not in the bin. */
export async function presetOrigins(db: Database, deskId: string): Promise<PresetOrigin[]> {
  const rows = await db('preset_origins')
    .join('presets', 'presets.id', 'preset_origins.preset_id')
    .where({ desk_id: deskId })
    .whereNull('binned_at')
    .orderBy('strip')
    .select<(PresetOriginRow & { name: string })[]>('preset_origins.*', 'name');
  return rows.map(({ strip, preset_id, edition, applied_settings, name }) => ({
    strip,
    presetId: preset_id,
    presetName: name,
    edition,
    appliedSettings: fromJson(applied_settings),
  }));
}

/** Lets a strip that came from a preset come from another edition of it, as it stands now. */
export async function updatePresetOrigin(
  tx: Database,
  { deskId, strip, presetId, edition }: AppliedPreset & { deskId: string },
  now: State,
): Promise<void> {
  const at = { desk_id: deskId, strip, preset_id: presetId };
  const row = await tx('preset_origins').where(at).first('applied_settings');
  if (!row) return;
  const addresses = Object.keys(fromJson(row.applied_settings));
  const held = Object.fromEntries(
    addresses.flatMap((address) => {
      const value = valueAt(now, address);
      return value === undefined ? [] : [[address, value]];
    }),
  );
  await tx('preset_origins')
    .where(at)
    .update({ edition, applied_settings: toJson(held) });
}

/** A strip that no longer has anything to do with a preset. */
export const removePresetOrigin = (db: Database, deskId: string, strip: string, presetId: string): Promise<number> =>
  db('preset_origins').where({ desk_id: deskId, strip, preset_id: presetId }).delete();
