import { LRUCache } from 'lru-cache';

import { fingerprint, stripFingerprint } from '@old-echo/core/desk/fingerprint';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { isWhole, type StripState } from '@old-echo/core/desk/state';
import {
  type ArchiveHead,
  ENTRIES,
  readSceneLine,
  readStripLine,
  type SceneLine,
} from '@old-echo/core/formats/file-shapes';
import type { ChangeSummary } from '@old-echo/core/scenes/plan-scene';

import type { Database } from '../database/connect';
import { fromJson, type JsonText, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import { storeStrips } from '../desk/strip-states';
import type { ReportProgress } from '../jobs/run-job';
import { insertRecord, planFrom } from '../scenes/insert-scene';
import { setNextNumbers } from '../scenes/production-store';
import { storeOutboard } from '../scenes/scene-outboard';
import { invalidFile } from './document';
import { importStrip, partOf } from './import-target';
import { type OpenArchive, readLines } from './open-file';

/** Every strip state of an archive as JSON by fingerprint; each is what its fingerprint says. */
export async function readStripStates(archive: OpenArchive): Promise<Map<string, JsonText<StripState>>> {
  const states = new Map<string, JsonText<StripState>>();
  for await (const { line, where } of readLines(archive, ENTRIES.strips, readStripLine)) {
    const { fingerprint: print, settings } = line;
    if (fingerprint(settings) !== print) throw invalidFile(`${where} is not what its fingerprint says.`, where);
    states.set(print, toJson(settings));
  }
  return states;
}

export interface Scenes {
  readonly profile: Profile;
  readonly production: string;
  readonly versions: ArchiveHead['versions'];
  readonly here: (id: string) => string;
  readonly sections: ReadonlySet<string> | null;
  /** Scenes that are here already, and can be parents of those that come in. */
  readonly there: ReadonlySet<string>;
  /** Whether scenes are numbered anew, from one on, instead of as they were. */
  readonly renumber: boolean;
  readonly prints: ReadonlyMap<string, JsonText<StripState>>;
  readonly total: number;
  readonly report: ReportProgress;
}

/** Strip states that are held read, of all that an archive may have. */
const STATE_CACHE_SIZE = 2000;

/** How often it is told how far it is, in scenes. */
const PROGRESS_EVERY = 20;

export async function importScenes(tx: Database, archive: OpenArchive, into: Scenes): Promise<void> {
  const { profile, production, versions, here, sections, there, renumber, prints, total, report } = into;
  const wanted = new Set(versions.map(({ id }) => id));
  const chosen = new Set(versions.flatMap(({ scenes }) => scenes));
  const made = new Set(there);
  const known = new LRUCache<string, StripState>({ max: STATE_CACHE_SIZE });
  const stateOf = (strip: string, print: string, where: string): StripState => {
    const id = sections === null ? print : `${strip} ${print}`;
    const before = known.get(id);
    if (before) return before;
    const json = prints.get(print);
    if (json === undefined) throw invalidFile(`${where} names a state that is not in ${ENTRIES.strips}.`, where);
    const state = importStrip(profile, strip, fromJson(json), sections);
    if (sections === null && stripFingerprint(state) !== print)
      throw invalidFile(`${where}: ${strip} holds a setting that ${profile.name} does not have.`, where);
    known.set(id, state);
    return state;
  };
  const none: Record<string, StripState> = {};
  let [state, numbered] = [none, 0];
  let before: string | undefined;
  const numbers = new Set<number>([0]);
  let last = 0;
  for await (const { line, where } of readLines(archive, ENTRIES.scenes, readSceneLine)) {
    // What was autosaved had numbers in files of earlier days; it has a place only.
    const number = line.kind === 'scene' ? line.number : 0;
    if (number > 0 && numbers.has(number)) throw invalidFile(`${where} has the number of another scene.`, where);
    numbers.add(number);
    const changed = Object.entries(line.strips).map(([strip, print]) => {
      if (!stripFamily(profile, strip)) throw invalidFile(`${profile.name} has no strip ${strip}.`, where);
      return [strip, stateOf(strip, print, where)] as const;
    });
    state = { ...state, ...Object.fromEntries(changed) };
    const missing = line.partial ? undefined : profile.strips.find((strip) => state[strip] === undefined);
    if (missing !== undefined) throw invalidFile(`${where}: ${profile.plainNames[missing]} is missing.`, where);
    if (!wanted.has(line.versionId) || !chosen.has(line.id)) continue;
    if (numbered % PROGRESS_EVERY === 0) await report(numbered, total);
    numbered++;
    const id = here(line.id);
    const held = partOf(line.partial ? changed : Object.entries(state));
    if (Object.keys(held).length === 0) throw invalidFile(`${where} holds nothing of what was chosen.`, where);
    const partial = !isWhole(profile, held);
    const plan = await planFrom(tx, profile, before, held);
    const { settings, strips } = line.moved;
    const names = strips.map((strip) => String(state[strip]?.['label/name'] ?? strip));
    const at = { partial, place: numbered, changed: { settings, strips, names } };
    const given = renumber && number > 0 ? last + 1 : number;
    last = Math.max(last, given);
    const seq = await insertLine(tx, id, production, here, { ...line, number: given }, at, made);
    await storeStrips(tx, seq, plan);
    before = id;
    made.add(line.id);
  }
  if (numbered < total)
    throw invalidFile(
      `${ENTRIES.scenes} holds ${numbered} of ${total} scenes: the archive is incomplete.`,
      ENTRIES.scenes,
    );
  await setNextNumbers(tx, production, (renumber ? last : Math.max(...numbers)) + 1, numbered + 1);
}

async function insertLine(
  tx: Database,
  id: string,
  production: string,
  here: (id: string) => string,
  line: SceneLine,
  at: { readonly partial: boolean; readonly place: number; readonly changed: ChangeSummary },
  made: ReadonlySet<string>,
): Promise<number> {
  const { name, note, milestone, kind, tags, scope } = line;
  const words = { versionId: here(line.versionId), name, note, milestone, kind, tags, scope };
  const record = {
    ...words,
    productionId: production,
    place: at.place,
    number: line.number || null,
    partial: at.partial,
    isProtected: line.protected,
    parents: line.parents.filter((parent) => made.has(parent)).map(here),
    madeAt: new Date(line.madeAt),
  };
  const seq = await insertRecord(tx, id, record, at.changed);
  await storeOutboard(
    tx,
    id,
    line.outboard.map((device) => ({ ...device, id: newId(), revision: 1 })),
  );
  return seq;
}
