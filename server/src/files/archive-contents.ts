import type { FileNode, LocalStatus } from '@old-echo/core/contracts/file-transfer';
import type { Profile } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import type { ArchiveHead } from '@old-echo/core/formats/file-shapes';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

export const leaf = (id: string, name: string, under = '', here: LocalStatus | null = null): FileNode => ({
  id,
  name,
  under,
  here,
  children: [],
});

/** How the versions of an archive stand to what is here; nothing is said of those of which nothing is known. */
type VersionsHere = Readonly<Record<string, LocalStatus>>;

/**
 * What an archive holds, as a tree: the same when it is opened as when it is made.
 * @param presets its presets as leaves
 */
export function archiveBranches(
  profile: Profile,
  head: Omit<ArchiveHead, 'profile'>,
  presets: readonly FileNode[],
  here: VersionsHere = {},
): FileNode[] {
  const versions = head.versions.map(({ id, name, scenes, autosaves }) =>
    leaf(
      `versions/${id}`,
      name,
      `${plural(scenes.length - autosaves, 'scene')}${autosaves > 0 ? `, ${autosaves} autosaved` : ''}`,
      here[id] ?? null,
    ),
  );
  const more: FileNode[] = [
    ...(head.mixNotes.length > 0 ? [leaf('mixNotes', 'Mix notes', plural(head.mixNotes.length, 'mix note'))] : []),
    ...(Object.keys(head.parts).length > 0
      ? [leaf('parts', 'Parts', plural(Object.keys(head.parts).length, 'strip'))]
      : []),
    ...(head.venues.length > 0
      ? [{ ...leaf('venues', 'Venues'), children: head.venues.map(({ name }) => leaf(`venues/${name}`, name)) }]
      : []),
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
  return [
    ...(versions.length > 0 ? [{ ...leaf('versions', 'Versions'), children: versions }] : []),
    ...(more.length > 0 ? [{ ...leaf('more', 'What belongs to it'), children: more }] : []),
    ...(presets.length > 0 ? [{ ...leaf('presets', 'Presets in use'), children: presets }] : []),
    ...(versions.length > 0 ? sectionBranches(profile) : []),
  ];
}

/** Which sections of scenes come in: without some, a scene is a part of a desk, which neither holds them nor brings them back. */
export function sectionBranches(profile: Profile): FileNode[] {
  const has = new Set(profile.families.flatMap(({ sections }) => sections));
  const children = SECTIONS.filter((section) => has.has(section)).map((section) =>
    leaf(`sections/${section}`, sectionName(section)),
  );
  return [{ ...leaf('sections', 'Sections of its scenes'), children }];
}
