import { sceneTitle } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import type { SceneFile } from '@old-echo/core/formats/file-shapes';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import { writeScene } from '../scenes/insert-scene';
import { addProduction } from '../scenes/production-store';
import { addVersion } from '../scenes/version-store';
import { invalidFile } from './document';
import type { ImportResult, Tools } from './import-context';
import { chosenSections, findOrAddDesk, findOrAddProfile, importStrip, partOf, productionFor } from './import-target';
import { sceneLike } from './scene-like';

export async function importSceneFile(
  { tx }: Tools,
  { profile: source, scene }: SceneFile,
  include: ReadonlySet<string>,
  intoId: string | null,
): Promise<ImportResult> {
  const id = newId();
  const profile = await findOrAddProfile(tx, source);
  const sections = chosenSections(profile, include);
  const content = scene.state;
  const state = partOf(
    profile.strips.flatMap((strip) => {
      const own = content[strip];
      return own ? [[strip, importStrip(profile, strip, own, sections)] as const] : [];
    }),
  );
  if (Object.keys(state).length === 0)
    throw invalidFile('The scene holds nothing of what was chosen.', 'scene.state', 'Choose other sections of it.');
  const stranger = Object.keys(content).find((strip) => !profile.strips.includes(strip));
  if (stranger !== undefined) throw invalidFile(`${profile.name} has no strip ${stranger}.`, `scene.state.${stranger}`);
  const twin = await sceneLike(tx, profile.id, state);
  const production = intoId === null ? await filesProduction(tx, profile) : await productionFor(tx, profile, intoId);
  const version = await filesVersion(tx, production);
  const taken = await tx('scenes').where({ version_id: version }).whereNotNull('unique_name').pluck('name');
  const { name, note, milestone, tags, scope, madeAt } = scene;
  await writeScene(tx, profile, id, {
    versionId: version,
    name: uniqueName(name, taken),
    note,
    milestone,
    tags,
    kind: 'scene',
    parents: [],
    madeAt: new Date(madeAt),
    scope,
    state,
  });
  return {
    resultPath: `/mixes/${production}/scene/${id}`,
    note: twin ? `It was already here, as ${sceneTitle(twin)}: this is a copy of it.` : '',
  };
}

/** Where single scenes from files go: a version of the first song or show of their desk, or of a new one. */
async function filesProduction(tx: Database, profile: Profile): Promise<string> {
  const { id: deskId } = await findOrAddDesk(tx, profile, { name: profile.name, mode: profile.use });
  const known = await tx('productions').where({ desk_id: deskId }).whereNull('binned_at').orderBy('place').first('id');
  if (known) return known.id;
  const id = newId();
  await addProduction(tx, { id, deskId, name: FROM_FILES, kind: 'song', note: '' });
  return id;
}

const FROM_FILES = 'From files';

async function filesVersion(tx: Database, productionId: string): Promise<string> {
  const own = await tx('versions').where({ production_id: productionId }).whereNull('binned_at');
  const known = own.find(({ name }) => name === FROM_FILES);
  if (known) return known.id;
  const id = newId();
  await addVersion(tx, { id, production_id: productionId, name: FROM_FILES });
  return id;
}
