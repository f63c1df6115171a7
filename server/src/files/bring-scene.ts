import type { State } from '@old-echo/core/desk/state';
import type { SceneFile } from '@old-echo/core/formats/files';
import { freeName } from '@old-echo/core/scene/suggest-name';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { writeScene } from '../scenes/insert';
import { refused } from './open';
import type { Tools } from './bring-tools';
import { profileFor, deskFor, comingIn, sectionsIn, scopeOf } from './landing';

export async function bringScene(
  { db }: Tools,
  { profile: source, scene }: SceneFile,
  take: ReadonlySet<string>,
): Promise<string> {
  const id = newId();
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
  const id = newId();
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
  const id = newId();
  const place = Math.max(-1, ...own.map((version) => version.place)) + 1;
  await tx('versions').insert({ id, production_id: productionId, name: FROM_FILES, note: '', place });
  return id;
}
