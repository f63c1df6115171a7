import type { FileNode } from '@old-echo/core/contracts/file-transfer';

import { archiveQuery } from '../../src/files/archive-query';
import { leaves } from '../../src/files/file-tree';

const node = (id: string, children: readonly FileNode[] = []): FileNode => ({
  id,
  name: id,
  under: '',
  here: null,
  children,
});
const CONTENTS = [
  node('versions', [node('versions/a'), node('versions/b')]),
  node('more', [node('mixNotes'), node('venues', [node('venues/Hall'), node('venues/Barn')]), node('sound')]),
  node('presets', [node('presets/1'), node('presets/2')]),
  node('sections', [node('sections/eq'), node('sections/sends')]),
];
const all = leaves(CONTENTS).map(({ id }) => id);
const but = (...left: readonly string[]) => new Set(all.filter((id) => !left.includes(id)));

test.each([
  ['everything', but(), { versions: undefined, without: [], sound: true }],
  ['one version', but('versions/b'), { versions: ['a'], without: [], sound: true }],
  ['no version', but('versions/a', 'versions/b'), { versions: undefined, without: ['versions'], sound: true }],
  ['no sound', but('sound'), { versions: undefined, without: [], sound: false }],
  ['one venue', but('venues/Barn'), { versions: undefined, without: ['venues/Barn'], sound: true }],
  [
    'no venue, and one preset',
    but('venues/Hall', 'venues/Barn', 'presets/2'),
    { versions: undefined, without: ['venues', 'presets/2'], sound: true },
  ],
  ['no EQ', but('sections/eq'), { versions: undefined, without: ['sections/eq'], sound: true }],
])('%s', (_, taken, query) => {
  expect(archiveQuery(CONTENTS, taken)).toEqual(query);
});
