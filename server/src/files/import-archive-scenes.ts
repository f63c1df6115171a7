import { LRUCache } from 'lru-cache';

import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import { type Family, type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { isWhole, type State, type StripState } from '@old-echo/core/desk/state';
import { type ArchiveHead, ENTRIES, readSceneLine, readStripLine } from '@old-echo/core/formats/file-shapes';

import type { Database } from '../database/connect';
import { fromJson, type JsonText, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { ReportProgress } from '../jobs/run-job';
import { setNextNumbers } from '../scenes/production-store';
import { SceneBatch } from '../scenes/scene-batch';
import { invalidFile } from './document';
import { importStrip, partOf } from './import-target';
import { type OpenArchive, readLines } from './open-file';

/** Every strip state of an archive as JSON by fingerprint; each is what its fingerprint says. */
export async function readStripStates(archive: OpenArchive): Promise<Map<string, JsonText<StripState>>> {
  const states = new Map<string, JsonText<StripState>>();
  for await (const { line, where } of readLines(archive, ENTRIES.strips, readStripLine)) {
    const { fingerprint: print, settings } = line;
    if (stripFingerprint(settings) !== print) throw invalidFile(`${where} is not what its fingerprint says.`, where);
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
  let state: State = {};
  const stateOf = (strip: string, family: Family, print: string, where: string): StripState => {
    // What strips of one family hold is not what those of another can.
    const id = `${family.id} ${print}`;
    const read = known.get(id);
    if (read) return read;
    const json = prints.get(print);
    if (json === undefined) throw invalidFile(`${where} names a state that is not in ${ENTRIES.strips}.`, where);
    const own = importStrip(profile, strip, fromJson(json), sections, state[strip]);
    if (sections === null && stripFingerprint(own) !== print)
      throw invalidFile(`${where}: ${strip} holds a setting that ${profile.name} does not have.`, where);
    known.set(id, own);
    return own;
  };
  const batch = new SceneBatch(tx);
  const numbers = new Set<number>([0]);
  let [numbered, last] = [0, 0];
  for await (const { line, where } of readLines(archive, ENTRIES.scenes, readSceneLine)) {
    // What was autosaved had numbers in files of earlier days; it has a place only.
    const number = line.kind === 'scene' ? line.number : 0;
    if (number > 0 && numbers.has(number)) throw invalidFile(`${where} has the number of another scene.`, where);
    numbers.add(number);
    const changed = Object.entries(line.strips).map(([strip, print]) => {
      const family = stripFamily(profile, strip);
      if (!family) throw invalidFile(`${profile.name} has no strip ${strip}.`, where);
      return [strip, stateOf(strip, family, print, where)] as const;
    });
    state = { ...state, ...Object.fromEntries(changed) };
    const missing = line.partial ? undefined : profile.strips.find((strip) => state[strip] === undefined);
    if (missing !== undefined) throw invalidFile(`${where}: ${profile.plainNames[missing]} is missing.`, where);
    if (!wanted.has(line.versionId) || !chosen.has(line.id)) continue;
    if (numbered % PROGRESS_EVERY === 0) await report(numbered, total);
    numbered++;
    const held = partOf(line.partial ? changed : Object.entries(state));
    if (Object.keys(held).length === 0) throw invalidFile(`${where} holds nothing of what was chosen.`, where);
    const { name, note, milestone, kind, tags, scope, moved } = line;
    const given = renumber && number > 0 ? last + 1 : number;
    last = Math.max(last, given);
    const scene = {
      id: here(line.id),
      productionId: production,
      versionId: here(line.versionId),
      name,
      note,
      milestone,
      kind,
      tags,
      scope,
      place: numbered,
      number: given || null,
      partial: !isWhole(profile, held),
      isProtected: line.protected,
      parents: line.parents.filter((parent) => made.has(parent)).map(here),
      madeAt: new Date(line.madeAt),
      changed: { ...moved, names: moved.strips.map((strip) => String(state[strip]?.['label/name'] ?? strip)) },
      devices: line.outboard.map((device) => ({ ...device, id: newId(), revision: 1 })),
    };
    await batch.add(scene, held);
    made.add(line.id);
  }
  await batch.write();
  if (numbered < total)
    throw invalidFile(
      `${ENTRIES.scenes} holds ${numbered} of ${total} scenes: the archive is incomplete.`,
      ENTRIES.scenes,
    );
  await setNextNumbers(tx, production, (renumber ? last : Math.max(...numbers)) + 1, numbered + 1);
}
