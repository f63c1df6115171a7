import type { FileNode, FileView, LocalStatus } from '@old-echo/core/contracts/file-transfer';
import type { ArchiveHead, LibraryFile } from '@old-echo/core/formats/file-shapes';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { plural, sectionName, SECTIONS } from '@old-echo/core/desk/format-value';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { fingerprint } from '@old-echo/core/desk/fingerprint';

import type { Database } from '../database/connect';
import { presets, presetDetail } from '../library/preset-store';
import type { OpenedFile } from './open-file';
import { sceneLike } from './scene-like';

type FileContents = Pick<FileView, 'format' | 'what' | 'fits' | 'branches'>;

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
      fits: 'Presets land on any desk; what a desk does not have is told when they are put there.',
      branches: await presetBranches(db, library.presets),
    };
  }
  if (opened.format === 'scene') {
    const { scene, profile } = opened.scene;
    const made = parseProfile(profile);
    const twin = await sceneLike(db, made.id, scene.state as State);
    return {
      format: 'scene',
      what: `The scene ${scene.name}, of the desk ${made.name}.`,
      fits: `${await fitsHere(db, made)}${twin ? ` It is here already, as ${sceneTitle(twin)}: imported again it becomes a copy.` : ''}`,
      branches: [leaf('scene', scene.name, scene.note, twin ? 'same' : 'new'), ...sectionBranches(made)],
    };
  }
  return archiveInside(db, opened.archive.head);
}

/** The desk of this kind that a file lands on here, in a sentence. */
async function fitsHere(db: Database, made: Profile): Promise<string> {
  const desk = (await db('desks').where({ profile_id: made.id }).orderBy('place').first('name')) as
    { name: string } | undefined;
  return desk
    ? `It lands in a song or show of ${desk.name}.`
    : `No desk here is a ${made.name}: one is entered without a link, from where everything can be carried over to yours.`;
}

async function archiveInside(db: Database, head: ArchiveHead): Promise<FileContents> {
  const made = parseProfile(head.profile);
  const known = (await db('productions').where({ id: head.production.id }).first('id')) !== undefined;
  const versions = await Promise.all(
    head.versions.map(async ({ id, name, scenes, kept }) =>
      leaf(
        `versions/${id}`,
        name,
        `${plural(scenes.length - kept, 'scene')}${kept > 0 ? `, ${kept} kept by themselves` : ''}`,
        await scenesHere(db, scenes),
      ),
    ),
  );
  const scenes = head.versions.reduce((sum, version) => sum + version.scenes.length, 0);
  const more: FileNode[] = [
    ...(head.wishes.length > 0 ? [leaf('wishes', 'Wishes', plural(head.wishes.length, 'wish', 'wishes'))] : []),
    ...(Object.keys(head.parts).length > 0
      ? [leaf('parts', 'Parts', plural(Object.keys(head.parts).length, 'strip'))]
      : []),
    ...(head.halls.length > 0 ? [leaf('halls', 'Halls', head.halls.map(({ name }) => name).join(', '))] : []),
    ...(head.outboard.length > 0
      ? [leaf('outboard', 'Beside the desk', head.outboard.map(({ name }) => name).join(', '))]
      : []),
    ...(head.scopes.length > 0 ? [leaf('scopes', 'Scopes', head.scopes.map(({ name }) => name).join(', '))] : []),
    ...(head.pins.length > 0 ? [leaf('pins', 'Pins', plural(head.pins.length, 'scene'))] : []),
    ...(head.desk.safes.length > 0
      ? [leaf('safes', 'Safes of the desk', 'They are put on the desk only where it has none')]
      : []),
    ...(head.stems.length > 0 && head.sound ? [leaf('sound', 'Sound', plural(head.stems.length, 'stem'))] : []),
  ];
  return {
    format: 'archive',
    what: `The ${head.production.kind} ${head.production.name}, of the desk ${head.desk.name}: ${plural(scenes, 'scene')}.`,
    fits: `${await fitsHere(db, made)}${known ? ' It is here already, so it becomes a copy.' : ''}`,
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
      (await db('scenes')
        .whereIn('id', ids.slice(i, i + 1000))
        .pluck('id')) as string[]
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
