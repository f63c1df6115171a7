import type { FileNode, ImportView, LocalStatus } from '@old-echo/core/contracts/file-transfer';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import type { ArchiveHead, LibraryFile } from '@old-echo/core/formats/file-shapes';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import type { Database } from '../database/connect';
import { presetDetail, presets } from '../library/preset-store';
import type { OpenedFile } from './open-file';
import { sceneLike } from './scene-like';

type FileContents = Pick<ImportView, 'format' | 'what' | 'fits' | 'branches'>;

const leaf = (id: string, name: string, under = '', here: LocalStatus | null = null): FileNode => ({
  id,
  name,
  under,
  here,
  children: [],
});

/** What is in a file, as a tree, and how each of it stands to what is here. */
export async function describeContents(db: Database, opened: OpenedFile): Promise<FileContents> {
  if (opened.format === 'library') {
    const { library } = opened;
    return {
      format: 'library',
      what: `${plural(library.presets.length, 'preset')} of a library.`,
      fits: 'Presets can be applied to any desk; what a desk does not have is listed before.',
      branches: await presetBranches(db, library.presets),
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
  const versions = await Promise.all(
    head.versions.map(async ({ id, name, scenes, autosaves }) =>
      leaf(
        `versions/${id}`,
        name,
        `${plural(scenes.length - autosaves, 'scene')}${autosaves > 0 ? `, ${autosaves} autosaved` : ''}`,
        await scenesHere(db, scenes),
      ),
    ),
  );
  const scenes = head.versions.reduce((sum, version) => sum + version.scenes.length, 0);
  const more: FileNode[] = [
    ...(head.mixNotes.length > 0 ? [leaf('mixNotes', 'Mix notes', plural(head.mixNotes.length, 'mix note'))] : []),
    ...(Object.keys(head.parts).length > 0
      ? [leaf('parts', 'Parts', plural(Object.keys(head.parts).length, 'strip'))]
      : []),
    ...(head.venues.length > 0 ? [leaf('venues', 'Venues', head.venues.map(({ name }) => name).join(', '))] : []),
    ...(head.outboard.length > 0
      ? [leaf('outboard', 'Outboard gear', head.outboard.map(({ name }) => name).join(', '))]
      : []),
    ...(head.scopes.length > 0
      ? [leaf('scopes', 'Recall scopes', head.scopes.map(({ name }) => name).join(', '))]
      : []),
    ...(head.atHand.length > 0 ? [leaf('atHand', 'Scenes at hand', plural(head.atHand.length, 'scene'))] : []),
    ...(head.desk.safes.length > 0
      ? [leaf('safes', 'Safes of the desk', 'Set on the desk only where it has none')]
      : []),
    ...(head.stems.length > 0 && head.sound ? [leaf('sound', 'Sound', plural(head.stems.length, 'stem'))] : []),
  ];
  return {
    format: 'archive',
    what: `The ${head.production.kind} ${head.production.name}, of the desk ${head.desk.name}: ${plural(scenes, 'scene')}.`,
    fits: `${await fitsHere(db, made)}${known ? ' It is already here, so it becomes a copy.' : ''}`,
    branches: [
      { ...leaf('versions', 'Versions'), children: versions },
      ...(more.length > 0 ? [{ ...leaf('more', 'What belongs to it'), children: more }] : []),
      ...(head.presets.length > 0
        ? [{ ...leaf('presets', 'Presets in use'), children: await presetBranches(db, head.presets) }]
        : []),
      ...sectionBranches(made),
    ],
  };
}

async function scenesHere(db: Database, ids: readonly string[]): Promise<LocalStatus> {
  let here = 0;
  for (let i = 0; i < ids.length; i += 1000)
    here += (
      await db('scenes')
        .whereIn('id', ids.slice(i, i + 1000))
        .pluck('id')
    ).length;
  return here === 0 ? 'new' : here === ids.length ? 'same' : 'different';
}

/** Which sections of scenes come in: without some, a scene is a part of a desk, which neither holds them nor brings them back. */
function sectionBranches(profile: Profile): FileNode[] {
  const has = new Set(profile.families.flatMap(({ sections }) => sections));
  const children = SECTIONS.filter((section) => has.has(section)).map((section) =>
    leaf(`sections/${section}`, sectionName(section)),
  );
  return [{ ...leaf('sections', 'Sections of its scenes'), children }];
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
