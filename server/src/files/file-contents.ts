import type { FileNode, ImportView, Into, LocalStatus } from '@old-echo/core/contracts/file-transfer';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { ArchiveHead, LibraryFile } from '@old-echo/core/formats/file-shapes';
import { plural } from '@old-echo/core/phrases/format-value';

import type { Database } from '../database/connect';
import { presetDetail, presets } from '../library/preset-store';
import { archiveBranches, leaf, sectionBranches } from './archive-contents';
import type { OpenedFile } from './open-file';
import { sceneLike } from './scene-like';

type FileContents = Pick<ImportView, 'format' | 'what' | 'fits' | 'branches' | 'into' | 'madeFrom'>;

/** What is in a file, as a tree, and how each of it stands to what is here. */
export async function describeContents(db: Database, opened: OpenedFile): Promise<FileContents> {
  if (opened.format === 'library') {
    const { library } = opened;
    return {
      format: 'library',
      what: `${plural(library.presets.length, 'preset')} of a library.`,
      fits: 'Presets can be applied to any desk; what a desk does not have is listed before.',
      branches: await presetBranches(db, library.presets),
      into: [],
      madeFrom: null,
    };
  }
  if (opened.format === 'scene') {
    const { scene, profile } = opened.scene;
    const made = parseProfile(profile);
    const twin = await sceneLike(db, made.id, scene.state);
    return {
      format: 'scene',
      what: `The scene ${scene.name}, of the desk ${made.name}.`,
      fits: `${await fitsHere(db, made)}${twin ? ` It is already here, as ${sceneTitle(twin)}: imported again it becomes a copy.` : ''}`,
      branches: [leaf('scene', scene.name, scene.note, twin ? 'same' : 'new'), ...sectionBranches(made)],
      into: await productionsOf(db, made),
      madeFrom: null,
    };
  }
  return archiveInside(db, opened.archive.head);
}

/** The desk of this kind that a file lands on here, in a sentence. */
async function fitsHere(db: Database, made: Profile): Promise<string> {
  const desk = await db('desks').where({ profile_id: made.id }).orderBy('place').first('name');
  return desk
    ? `It goes into a song or show of ${desk.name}.`
    : `There is no ${made.name} here. One is added, not connected; carry its scenes over to your desk.`;
}

async function archiveInside(db: Database, head: ArchiveHead): Promise<FileContents> {
  const made = parseProfile(head.profile);
  const known = (await db('productions').where({ id: head.production.id }).first('id')) !== undefined;
  const into = await productionsOf(db, made);
  const here: Record<string, LocalStatus> = {};
  for (const { id, scenes } of head.versions) here[id] = await scenesHere(db, scenes);
  const scenes = head.versions.reduce((sum, version) => sum + version.scenes.length, 0);
  return {
    format: 'archive',
    what: `The ${head.production.kind} ${head.production.name}, of the desk ${head.desk.name}: ${plural(scenes, 'scene')}.`,
    fits: `${await fitsHere(db, made)}${known ? ' It is already here: on its own it becomes a copy; into the one here comes only what is new.' : ''}`,
    branches: archiveBranches(made, head, await presetBranches(db, head.presets), here),
    into,
    madeFrom: into.find(({ id }) => id === head.production.id)?.id ?? null,
  };
}

/** The songs and shows here of a kind of desk, in their order, each with its desk where there are several of the kind. */
async function productionsOf(db: Database, { id }: Profile): Promise<Into[]> {
  const rows = await db('productions')
    .join('desks', 'desks.id', 'productions.desk_id')
    .where('profile_id', id)
    .whereNull('binned_at')
    .orderBy('desks.place')
    .orderBy('productions.place')
    .select<{ id: string; name: string; desk: string }[]>('productions.id', 'productions.name', { desk: 'desks.name' });
  const desks = new Set(rows.map(({ desk }) => desk));
  return rows.map(({ id: production, name, desk }) => ({
    id: production,
    name: desks.size > 1 ? `${name} on ${desk}` : name,
  }));
}

async function scenesHere(db: Database, ids: readonly string[]): Promise<LocalStatus> {
  let here = 0;
  for (let i = 0; i < ids.length; i += 1000)
    here += (
      await db('scenes')
        .whereIn('id', ids.slice(i, i + 1000))
        .whereNull('binned_at')
        .pluck('id')
    ).length;
  return here === 0 ? 'new' : here === ids.length ? 'same' : 'different';
}

async function presetBranches(db: Database, list: LibraryFile['presets']): Promise<FileNode[]> {
  const all = (await presets(db)).filter(({ binnedAt }) => binnedAt === null);
  return Promise.all(
    list.map(async ({ kind, name, folder, content }, i) => {
      const same = all.find((one) => one.kind === kind && one.name === name);
      const here = !same
        ? 'new'
        : fingerprint((await presetDetail(db, same.id)).content) === fingerprint(content)
          ? 'same'
          : 'different';
      return leaf(`presets/${i}`, name, folder, here);
    }),
  );
}
