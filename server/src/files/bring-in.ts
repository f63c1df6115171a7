import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';

import type { ImportRequest } from '@old-echo/core/contracts/file';
import type { NewPreset } from '@old-echo/core/contracts/preset';
import { readShape } from '@old-echo/core/contracts/read';
import { sectionOf } from '@old-echo/core/desk/address';
import { defaultOf, readProfile, stripFamily, type Profile } from '@old-echo/core/desk/profile';
import { acceptSettings, type State, type StripState } from '@old-echo/core/desk/state';
import {
  ENTRIES,
  photoEntry,
  sceneLineShape,
  soundEntry,
  stripLineShape,
  type ArchiveHead,
  type LibraryFile,
  type SceneFile,
  type SceneLine,
} from '@old-echo/core/formats/files';
import { wavInfo } from '@old-echo/core/formats/wav';
import { fingerprint, stripFingerprint } from '@old-echo/core/scene/fingerprint';
import { freeName } from '@old-echo/core/scene/suggest-name';
import type { Scope } from '@old-echo/core/scope/rules';
import { LRUCache } from 'lru-cache';
import { ulid } from 'ulid';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { productionMustBeUnlocked } from '../desks/lock';
import { pictureType } from '../outboard/store';
import { acceptContent, insertPreset, presets, presetWhole } from '../presets/store';
import { binProduction } from '../productions/store';
import { insertProfile, readStoredProfile } from '../profiles/store';
import { noteMoves, writeScene } from '../scenes/insert';
import { storeStrips } from '../scenes/strip-states';
import type { SoundFiles } from '../sound/files';
import { linesOf, refused, type OpenArchive, type Opened } from './open';

/** How far it is; throws where someone has asked to cancel. */
export type Beat = (done: number, total: number) => Promise<void>;

interface Tools {
  readonly db: Database;
  readonly files: SoundFiles;
  readonly beat: Beat;
  readonly by: string;
}

/**
 * Brings what was chosen of a file in, whole or not at all. What is here already becomes a copy with a name of its own, unless
 * it is to be replaced: then the one that was here goes to the bin.
 * @returns where it went, in the app
 * @throws Fault `refused-input` with what and where, `protected` where something to be replaced is
 */
export async function bringIn(tools: Tools, opened: Opened, request: ImportRequest): Promise<string> {
  const take = new Set(request.take);
  if (opened.format === 'library') return bringPresets(tools, opened.library, take, request.replace);
  if (opened.format === 'scene') return bringScene(tools, opened.scene, take);
  return bringArchive(tools, opened.archive, take, request.replace);
}

async function bringPresets(
  { db, beat, by }: Tools,
  { profiles, presets: list }: Pick<LibraryFile, 'profiles' | 'presets'>,
  take: ReadonlySet<string>,
  replace: boolean,
): Promise<string> {
  const chosen = list.filter((_, i) => take.has(`presets/${i}`));
  const landed: string[] = [];
  await inTransaction(db, async (tx) => {
    for (const profile of profiles) await profileFor(tx, profile);
    for (const [done, preset] of chosen.entries()) {
      await beat(done, chosen.length);
      landed.push(await bringPreset(tx, preset, by, replace));
    }
  });
  return `/library/${landed.at(-1) ?? ''}`;
}

/** One preset; one that is here already as it is, is left alone. */
async function bringPreset(
  tx: Database,
  preset: LibraryFile['presets'][number],
  by: string,
  replace: boolean,
): Promise<string> {
  const same = (await presets(tx)).find(
    ({ kind, name, binnedAt }) => binnedAt === null && kind === preset.kind && name === preset.name,
  );
  const profile = await readStoredProfile(tx, preset.profileId);
  const content = acceptContent(profile, preset.content as State);
  if (same && fingerprint((await presetWhole(tx, same.id)).content) === fingerprint(content)) return same.id;
  const made: NewPreset = { ...preset, content, by: preset.by || by, taken: replace ? 'replace' : 'keep both' };
  return (await insertPreset(tx, made)).id;
}

/** The kind of desk of a file, here. @throws Fault `refused-input` where another kind has its name */
async function profileFor(tx: Database, source: unknown): Promise<Profile> {
  const profile = readProfile(source);
  const row = (await tx('profiles').where({ id: profile.id }).first('source')) as { source: string } | undefined;
  if (!row) await insertProfile(tx, source);
  else if (fingerprint(JSON.parse(row.source)) !== fingerprint(source))
    throw refused(
      `The file is of another kind of ${profile.name} than the one that is known here.`,
      'profile',
      'Nothing was brought in. Its desk has other settings, or other ranges.',
    );
  return profile;
}

/** The desk here that something of its kind belongs to; one that nobody knows is entered without a link. */
async function deskFor(tx: Database, profile: Profile, like: { name: string; mode: string }): Promise<string> {
  const known = (await tx('desks').where({ profile_id: profile.id }).orderBy('place').first('id')) as
    { id: string } | undefined;
  if (known) return known.id;
  const id = ulid();
  const [{ place }] = (await tx('desks').max({ place: 'place' })) as [{ place: number | null }];
  // The port that discards what it is sent: until someone says where the desk is, it is not linked.
  const nowhere = { host: '127.0.0.1', port: 9 };
  await tx('desks').insert({
    id,
    name: like.name,
    profile_id: profile.id,
    ...nowhere,
    mode: like.mode,
    safes: '[]',
    place: (place ?? -1) + 1,
  });
  return id;
}

/** Settings of a strip as they come in: checked, and without sections that were not chosen, which are as on an untouched desk. */
function comingIn(
  profile: Profile,
  strip: string,
  settings: StripState,
  sections: ReadonlySet<string> | null,
): StripState {
  const family = stripFamily(profile, strip);
  const flat = Object.fromEntries(Object.entries(settings).map(([key, value]) => [`${strip}/${key}`, value]));
  // Checked, and kept as they are: what is written a little off a step is the same to the desk, but has another fingerprint.
  acceptSettings(profile, flat);
  if (!family) return {};
  return Object.fromEntries(
    family.keys.map((key) => {
      const value = settings[key];
      const left = value === undefined || (sections !== null && !sections.has(sectionOf(key)));
      return [key, left ? defaultOf(profile, strip, family.settings[key] as never) : value];
    }),
  );
}

/** The sections that come in, or null for all of them. */
function sectionsIn(profile: Profile, take: ReadonlySet<string>): ReadonlySet<string> | null {
  const all = new Set(profile.families.flatMap(({ sections }) => sections));
  const chosen = [...all].filter((section) => take.has(`sections/${section}`));
  if (chosen.length === 0)
    throw refused('No section of its scenes was chosen.', 'take', 'Choose at least one, or no version.');
  return chosen.length === all.size ? null : new Set(chosen);
}

const scopeOf = (sections: ReadonlySet<string> | null, own: Scope | null): Scope | null =>
  sections === null ? own : [{ strips: ['*'], sections: [...sections], take: true }];

async function bringScene(
  { db }: Tools,
  { profile: source, scene }: SceneFile,
  take: ReadonlySet<string>,
): Promise<string> {
  const id = ulid();
  let production = '';
  await inTransaction(db, async (tx) => {
    const profile = await profileFor(tx, source);
    const sections = sectionsIn(profile, take);
    const deskId = await deskFor(tx, profile, { name: profile.name, mode: profile.use });
    const content = scene.state as State;
    const missing = profile.strips.find((strip) => content[strip] === undefined);
    if (missing !== undefined)
      throw refused(`The scene has no ${profile.plainNames[missing]}.`, `scene.state.${missing}`);
    const state = Object.fromEntries(
      profile.strips.map((strip) => [strip, comingIn(profile, strip, content[strip] ?? {}, sections)]),
    );
    const stranger = Object.keys(content).find((strip) => !profile.strips.includes(strip));
    if (stranger !== undefined) throw refused(`${profile.name} has no strip ${stranger}.`, `scene.state.${stranger}`);
    production = await filesProduction(tx, deskId);
    const version = await filesVersion(tx, production);
    const taken = (await tx('scenes')
      .where({ version_id: version })
      .whereNotNull('own_name')
      .pluck('name')) as string[];
    const { name, note, milestone, tags, scope, madeAt } = scene;
    await writeScene(tx, profile, id, {
      versionId: version,
      name: freeName(name, taken),
      note,
      milestone,
      tags,
      kind: 'scene',
      parents: [],
      madeAt: new Date(madeAt),
      state,
    });
    await tx('scenes')
      .where({ id })
      .update({ scope: JSON.stringify(scopeOf(sections, scope)) });
  });
  return `/mixes/${production}/scene/${id}`;
}

/** Where single scenes from files go: a version of the first song or show of their desk, or of a new one. */
async function filesProduction(tx: Database, deskId: string): Promise<string> {
  const known = (await tx('productions')
    .where({ desk_id: deskId })
    .whereNull('binned_at')
    .orderBy('place')
    .first('id')) as { id: string } | undefined;
  if (known) return known.id;
  const id = ulid();
  await tx('productions').insert({ id, desk_id: deskId, name: FROM_FILES, kind: 'song', note: '', place: 0 });
  return id;
}

const FROM_FILES = 'From files';

async function filesVersion(tx: Database, productionId: string): Promise<string> {
  const own = (await tx('versions').where({ production_id: productionId }).whereNull('binned_at')) as {
    id: string;
    name: string;
    place: number;
  }[];
  const known = own.find(({ name }) => name === FROM_FILES);
  if (known) return known.id;
  const id = ulid();
  const place = Math.max(-1, ...own.map((version) => version.place)) + 1;
  await tx('versions').insert({ id, production_id: productionId, name: FROM_FILES, note: '', place });
  return id;
}

async function bringArchive(
  tools: Tools,
  archive: OpenArchive,
  take: ReadonlySet<string>,
  replace: boolean,
): Promise<string> {
  const { db, files, beat, by } = tools;
  const { head } = archive;
  const versions = head.versions.filter(({ id }) => take.has(`versions/${id}`));
  if (versions.length === 0) {
    // Only presets of it.
    return bringPresets(tools, head, take, replace);
  }
  // Files are named by their content: one that is left behind by a failure harms nothing, and is found again.
  if (take.has('sound') && head.sound)
    for (const { hash } of head.stems) await bringFile(archive, soundEntry(hash), files.stem(hash), hash, files, isWav);
  if (take.has('outboard'))
    for (const { photo } of head.outboard)
      if (photo !== null && archive.entries.has(photoEntry(photo)))
        await bringFile(archive, photoEntry(photo), files.photo(photo), photo, files, isPicture);
  const total = versions.reduce((sum, { scenes }) => sum + scenes.length, 0);
  let production = head.production.id;
  await inTransaction(db, async (tx) => {
    const profile = await profileFor(tx, head.profile);
    const sections = sectionsIn(profile, take);
    const deskId = await deskFor(tx, profile, head.desk);
    const known = (await tx('productions').where({ id: production }).first('id', 'binned_at')) as
      { id: string; binned_at: Date | null } | undefined;
    if (known) {
      if (replace && known.binned_at === null) {
        await productionMustBeUnlocked(tx, known.id);
        await binProduction(tx, known.id, true);
      }
      production = ulid();
    }
    const ids = await newIds(tx, known !== undefined, head, versions);
    const here = (id: string) => ids.get(id) ?? id;
    await bringWords(tx, head, { production, deskId, versions, here, take });
    const prints = await bringStrips(archive);
    await bringScenes(tx, archive, { profile, production, versions, here, sections, prints, total, beat });
    await bringRest(tx, head, { production, deskId, versions, here, take, by, replace });
  });
  return `/mixes/${production}`;
}

const isWav = async (path: string): Promise<boolean> => {
  const { size } = await stat(path);
  const stream = createReadStream(path, { end: 65_535 });
  const pieces: Buffer[] = [];
  for await (const piece of stream) pieces.push(piece as Buffer);
  wavInfo(Buffer.concat(pieces), size);
  return true;
};
const isPicture = async (path: string): Promise<boolean> => pictureType(await readFile(path)) !== undefined;

/** Takes a file out of an archive, if it is what its name says. */
async function bringFile(
  archive: OpenArchive,
  entry: string,
  to: string,
  hash: string,
  files: SoundFiles,
  is: (path: string) => Promise<boolean>,
): Promise<void> {
  if (existsSync(to)) return;
  const arriving = join(files.arriving, ulid());
  try {
    await pipeline(await archive.read(entry), createWriteStream(arriving));
    const digest = createHash('sha256');
    await pipeline(createReadStream(arriving), digest);
    if (digest.digest('hex') !== hash) throw refused(`${entry} is not what its name says.`, entry);
    if (!(await is(arriving))) throw refused(`${entry} is not a file of its kind.`, entry);
    await rename(arriving, to);
  } finally {
    await rm(arriving, { force: true });
  }
}

/** Ids for what has one here already; everything of a copy gets new ones. */
async function newIds(
  tx: Database,
  copy: boolean,
  head: ArchiveHead,
  versions: ArchiveHead['versions'],
): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  const fresh = async (table: string, all: readonly string[]) => {
    for (let i = 0; i < all.length; i += 1000) {
      const some = all.slice(i, i + 1000);
      const taken = copy ? some : ((await tx(table).whereIn('id', some).pluck('id')) as string[]);
      for (const id of taken) ids.set(id, ulid());
    }
  };
  await fresh(
    'versions',
    head.versions.map(({ id }) => id),
  );
  await fresh(
    'scenes',
    versions.flatMap(({ scenes }) => scenes),
  );
  return ids;
}

interface Where {
  readonly production: string;
  readonly deskId: string;
  readonly versions: ArchiveHead['versions'];
  readonly here: (id: string) => string;
  readonly take: ReadonlySet<string>;
}

async function bringWords(
  tx: Database,
  head: ArchiveHead,
  { production, deskId, versions, here }: Where,
): Promise<void> {
  const taken = (await tx('productions').whereNull('binned_at').pluck('name')) as string[];
  const [{ place }] = (await tx('productions').max({ place: 'place' })) as [{ place: number | null }];
  const { name, kind, note } = head.production;
  const called = taken.includes(name) ? freeName(`${name}, from a file`, taken) : name;
  await tx('productions').insert({
    id: production,
    desk_id: deskId,
    name: called,
    kind,
    note,
    place: (place ?? -1) + 1,
  });
  await tx('versions').insert(
    versions.map(({ id, name: version, note: words, work }, at) => ({
      id: here(id),
      production_id: production,
      name: version,
      note: words,
      work,
      place: at,
    })),
  );
}

/** Every strip state of an archive as JSON by fingerprint; each is what its fingerprint says. */
async function bringStrips(archive: OpenArchive): Promise<Map<string, string>> {
  const states = new Map<string, string>();
  for await (const { json, where } of linesOf(archive, ENTRIES.strips)) {
    const { print, settings } = readShape(stripLineShape, json);
    if (fingerprint(settings) !== print) throw refused(`${where} is not what its fingerprint says.`, where);
    states.set(print, JSON.stringify(settings));
  }
  return states;
}

interface Scenes {
  readonly profile: Profile;
  readonly production: string;
  readonly versions: ArchiveHead['versions'];
  readonly here: (id: string) => string;
  readonly sections: ReadonlySet<string> | null;
  readonly prints: ReadonlyMap<string, string>;
  readonly total: number;
  readonly beat: Beat;
}

/** Strip states that are held read, of all that an archive may have. */
const KNOWN = 2000;
/** How often it is told how far it is, in scenes. */
const TELL = 20;

async function bringScenes(tx: Database, archive: OpenArchive, into: Scenes): Promise<void> {
  const { profile, production, versions, here, sections, prints, total, beat } = into;
  const wanted = new Set(versions.map(({ id }) => id));
  const chosen = new Set(versions.flatMap(({ scenes }) => scenes));
  const made = new Set<string>();
  const known = new LRUCache<string, StripState>({ max: KNOWN });
  const stateOf = (strip: string, print: string, where: string): StripState => {
    const id = sections === null ? print : `${strip} ${print}`;
    const before = known.get(id);
    if (before) return before;
    const json = prints.get(print);
    if (json === undefined) throw refused(`${where} names a state that is not in ${ENTRIES.strips}.`, where);
    const state = comingIn(profile, strip, JSON.parse(json) as StripState, sections);
    if (sections === null && stripFingerprint(state) !== print)
      throw refused(`${where}: ${strip} holds a setting that ${profile.name} does not have.`, where);
    known.set(id, state);
    return state;
  };
  let [state, numbered, before, highest]: [State, number, string | undefined, number] = [{}, 0, undefined, 0];
  for await (const { json, where } of linesOf(archive, ENTRIES.scenes)) {
    const line = readShape(sceneLineShape, json) as SceneLine;
    if (line.number <= highest) throw refused(`${where} is not in the order of numbers.`, where);
    highest = line.number;
    const changed = Object.entries(line.strips).map(([strip, print]) => {
      if (!stripFamily(profile, strip)) throw refused(`${profile.name} has no strip ${strip}.`, where);
      return [strip, stateOf(strip, print, where)] as const;
    });
    state = { ...state, ...Object.fromEntries(changed) };
    const missing = profile.strips.find((strip) => state[strip] === undefined);
    if (missing !== undefined) throw refused(`${where}: ${profile.plainNames[missing]} is missing.`, where);
    if (!wanted.has(line.versionId) || !chosen.has(line.id)) continue;
    if (numbered % TELL === 0) await beat(numbered, total);
    numbered++;
    const id = here(line.id);
    const seq = await insertLine(tx, id, production, here, line, scopeOf(sections, line.scope), made);
    await storeStrips(tx, seq, state, before);
    await noteMoves(tx, seq, {
      settings: line.moved.settings,
      strips: line.moved.strips,
      names: line.moved.strips.map((strip) => String(state[strip]?.['label/name'] ?? strip)),
    });
    before = id;
    made.add(line.id);
  }
  if (numbered < total)
    throw refused(`${ENTRIES.scenes} holds ${numbered} of ${total} scenes: the archive breaks off.`, ENTRIES.scenes);
  await tx('productions')
    .where({ id: production })
    .update({ next_number: highest + 1 });
}

async function insertLine(
  tx: Database,
  id: string,
  production: string,
  here: (id: string) => string,
  line: SceneLine,
  scope: Scope | null,
  made: ReadonlySet<string>,
): Promise<number> {
  const [seq] = (await tx('scenes').insert({
    id,
    production_id: production,
    version_id: here(line.versionId),
    number: line.number,
    name: line.name,
    note: line.note,
    milestone: line.milestone,
    kind: line.kind,
    protected: line.protected,
    scope: scope && JSON.stringify(scope),
    changed_settings: 0,
    changed_strips: 0,
    made_at: new Date(line.madeAt),
  })) as [number];
  const parents = line.parents.filter((parent) => made.has(parent));
  if (parents.length > 0)
    await tx('scene_parents').insert(
      parents.map((parent, place) => ({ scene_id: id, parent_id: here(parent), place })),
    );
  if (line.tags.length > 0) await tx('scene_tags').insert(line.tags.map((tag) => ({ scene_id: id, tag })));
  if (line.outboard.length > 0)
    await tx('scene_outboard').insert({
      scene_id: id,
      devices: JSON.stringify(line.outboard.map((device) => ({ ...device, id: ulid(), revision: 1 }))),
    });
  return seq;
}

async function bringRest(
  tx: Database,
  head: ArchiveHead,
  { production, deskId, versions, here, take, by, replace }: Where & { by: string; replace: boolean },
): Promise<void> {
  const chosen = new Set(versions.map(({ id }) => id));
  const scenes = new Set(versions.flatMap((version) => version.scenes));
  for (const { id, fromSceneId, followsId } of versions)
    await tx('versions')
      .where({ id: here(id) })
      .update({
        from_scene_id: fromSceneId !== null && scenes.has(fromSceneId) ? here(fromSceneId) : null,
        follows_id: followsId !== null && chosen.has(followsId) ? here(followsId) : null,
      });
  if (take.has('wishes'))
    for (const { versionId, sceneId, ...wish } of head.wishes)
      if (chosen.has(versionId))
        await tx('wishes').insert({
          ...wish,
          id: ulid(),
          version_id: here(versionId),
          scene_id: sceneId !== null && scenes.has(sceneId) ? here(sceneId) : null,
          made_at: new Date(),
        });
  if (take.has('parts')) {
    const rows = Object.entries(head.parts).map(([strip, part]) => ({
      production_id: production,
      strip,
      part: String(part),
    }));
    if (rows.length > 0) await tx('parts').insert(rows);
  }
  if (take.has('halls'))
    for (const { name, settings, takenAt } of head.halls)
      await tx('halls').insert({
        id: ulid(),
        production_id: production,
        name,
        settings: JSON.stringify(settings),
        taken_at: takenAt === null ? null : new Date(takenAt),
      });
  if (take.has('outboard'))
    for (const { name, knobs, note, photo } of head.outboard)
      await tx('outboard').insert({
        id: ulid(),
        production_id: production,
        name,
        knobs: JSON.stringify(knobs),
        note,
        photo,
      });
  if (take.has('scopes'))
    for (const { name, scope } of head.scopes)
      await tx('scopes')
        .insert({ id: ulid(), profile_id: readProfile(head.profile).id, name, scope: JSON.stringify(scope) })
        .onConflict(['profile_id', 'name'])
        .ignore();
  if (take.has('safes') && head.desk.safes.length > 0)
    await tx('desks')
      .where({ id: deskId, safes: '[]' })
      .update({ safes: JSON.stringify(head.desk.safes) });
  if (take.has('pins')) await bringPins(tx, deskId, head.pins.filter((id) => scenes.has(id)).map(here));
  if (take.has('sound') && head.sound && head.stems.length > 0)
    await tx('stems').insert(head.stems.map((stem) => ({ ...stem, production_id: production, made_at: new Date() })));
  for (const profile of head.profiles) await profileFor(tx, profile);
  for (const [i, preset] of head.presets.entries())
    if (take.has(`presets/${i}`)) await bringPreset(tx, preset, by, replace);
}

/** Pins go where there are none yet. */
async function bringPins(tx: Database, deskId: string, scenes: readonly string[]): Promise<void> {
  if (scenes.length === 0 || (await tx('pins').where({ desk_id: deskId }).first('scene_id'))) return;
  await tx('pins').insert(scenes.map((scene_id, place) => ({ desk_id: deskId, scene_id, place })));
}
