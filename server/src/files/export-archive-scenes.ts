import { familyOf } from '@old-echo/core/desk/address';
import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import type { Profile } from '@old-echo/core/desk/profile';
import { unfitting } from '@old-echo/core/desk/profile-change';
import type { StripState } from '@old-echo/core/desk/state';
import type { SceneLine } from '@old-echo/core/formats/file-shapes';
import { filterSettings } from '@old-echo/core/library/convert-strip';

import type { Database } from '../database/connect';
import { loadVerified } from '../desk/strip-states';
import { outboardOfScene } from '../scenes/scene-outboard';
import { sceneViews } from '../scenes/scene-store';

/** Rows read with one statement. */
const BATCH = 500;

/** A scene that goes in. */
export interface Chosen {
  readonly id: string;
  readonly seq: number;
  readonly version_id: string;
  readonly ordinal: number;
  readonly kind: string;
}

/** The strip states that scenes are made of, each with one strip of every family that holds it. */
export type Needed = Map<number, Map<string, string>>;

/** Settings of a strip without what does not go in. */
export type Take = (settings: StripState, held: ReadonlyMap<string, string>) => StripState;

/**
 * Undefined where everything goes in.
 * @param changed the model of desk where somebody changed it: what it does not have any more stays out
 */
export function takeOf(without: readonly string[], changed: Profile | undefined): Take | undefined {
  const left = new Set(without.flatMap((id) => (id.startsWith('sections/') ? [id.slice('sections/'.length)] : [])));
  if (left.size === 0 && !changed) return undefined;
  return (settings, held) => {
    const aside = new Set(changed && [...held.values()].flatMap((strip) => unfitting(changed, strip, settings)));
    return filterSettings(settings, (section, key) => !left.has(section) && !aside.has(key));
  };
}

/** Scenes as lines, in order, each with what it has otherwise than the one before; says in `needed` which strip states they are made of. */
export async function* sceneLines(
  db: Database,
  rows: readonly Chosen[],
  needed: Needed,
  takes: Take | undefined,
  profile: Profile,
): AsyncGenerator<string> {
  let before = new Map<string, number>();
  for (let i = 0; i < rows.length; i += BATCH) {
    const batch = rows.slice(i, i + BATCH);
    const seqs = batch.map(({ seq }) => seq);
    const scenes = batch.map(({ id }) => id);
    const words = await sceneViews(db, await db('scenes').whereIn('id', scenes).orderBy('ordinal'));
    const strips = await db('scene_strips').whereIn('scene_seq', seqs).whereIn('strip', profile.strips);
    const moves = await db('scene_changed_strips').whereIn('scene_seq', seqs);
    const kept = new Set(await db('scene_outboard').whereIn('scene_id', scenes).pluck('scene_id'));
    const [stateOf, movesOf] = [new Map<number, Map<string, number>>(), new Map<number, string[]>()];
    for (const { scene_seq, strip, strip_state_id } of strips)
      stateOf.set(scene_seq, (stateOf.get(scene_seq) ?? new Map<string, number>()).set(strip, strip_state_id));
    for (const { strip, strip_state_id: id } of strips)
      needed.set(id, (needed.get(id) ?? new Map<string, string>()).set(familyOf(strip), strip));
    for (const { scene_seq, strip } of moves) movesOf.set(scene_seq, [...(movesOf.get(scene_seq) ?? []), strip]);
    const own: Needed = new Map();
    for (const { strip_state_id: id } of strips) own.set(id, needed.get(id) ?? new Map<string, string>());
    const prints = await printsById(db, own, takes);
    for (const [at, view] of words.entries()) {
      const seq = batch[at]?.seq ?? 0;
      const now = stateOf.get(seq) ?? new Map<string, number>();
      // Without some settings it is a part of a desk, of which nothing follows from the scene before.
      const partial = view.partial || takes !== undefined;
      const changed = [...now].filter(([strip, id]) => (partial ? prints.has(id) : before.get(strip) !== id));
      const line: SceneLine = {
        id: view.id,
        versionId: view.versionId,
        number: view.number,
        name: view.name,
        note: view.note,
        milestone: view.milestone,
        tags: [...view.tags],
        protected: view.protected,
        kind: view.kind,
        parents: [...view.parents],
        scope: view.scope && [...view.scope],
        madeAt: view.madeAt,
        moved: { settings: view.changed.settings, strips: movesOf.get(seq) ?? [] },
        outboard: kept.has(view.id)
          ? (await outboardOfScene(db, view.id)).map(({ name, controls, note, photo }) => ({
              name,
              controls,
              note,
              photo,
            }))
          : [],
        partial,
        strips: Object.fromEntries(changed.map(([strip, id]) => [strip, prints.get(id) ?? ''])),
      };
      before = now;
      yield `${JSON.stringify(line)}\n`;
    }
  }
}

/** The strip states that scenes are made of as lines, each once. */
export async function* stripLines(db: Database, needed: Needed, takes: Take | undefined): AsyncGenerator<string> {
  const [all, told] = [[...needed], new Set<string>()];
  for (let i = 0; i < all.length; i += BATCH)
    for (const [, settings] of await statesById(db, all.slice(i, i + BATCH), takes)) {
      const print = stripFingerprint(settings);
      // What differed only in what does not go in is the same now.
      if (!told.has(print)) yield `${JSON.stringify({ fingerprint: print, settings })}\n`;
      told.add(print);
    }
}

/** Strip states by id, as far as they go in, without those of which nothing does. */
async function statesById(
  db: Database,
  needed: readonly (readonly [id: number, held: ReadonlyMap<string, string>])[],
  takes: Take | undefined,
): Promise<(readonly [id: number, settings: StripState])[]> {
  const held = new Map(needed);
  const rows = [...(await storedPrints(db, [...held.keys()]))].map(([id, print]) => ({ id, print }));
  const states = [...(await loadVerified(db, rows))];
  if (!takes) return states;
  return states.flatMap(([id, settings]) => {
    const taken = takes(settings, held.get(id) ?? new Map());
    return Object.keys(taken).length > 0 ? [[id, taken] as const] : [];
  });
}

/** Fingerprints of strip states, as far as they go in, by id. */
async function printsById(db: Database, needed: Needed, takes: Take | undefined): Promise<Map<number, string>> {
  if (!takes) return storedPrints(db, [...needed.keys()]);
  const found = new Map<number, string>();
  const all = [...needed];
  for (let i = 0; i < all.length; i += BATCH)
    for (const [id, settings] of await statesById(db, all.slice(i, i + BATCH), takes))
      found.set(id, stripFingerprint(settings));
  return found;
}

async function storedPrints(db: Database, all: readonly number[]): Promise<Map<number, string>> {
  const found = new Map<number, string>();
  for (let i = 0; i < all.length; i += BATCH) {
    const rows = await db('strip_states')
      .whereIn('id', all.slice(i, i + BATCH))
      .select('id', 'fingerprint');
    for (const { id, fingerprint } of rows) found.set(id, fingerprint.toString('hex'));
  }
  return found;
}
