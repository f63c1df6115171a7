import { profileJson } from '@old-echo/testing/profiles';

import { Fault } from '../../src/fault/fault';
import {
  ARCHIVE,
  LIBRARY,
  readArchiveHead,
  readLibraryFile,
  readSceneLine,
  readStripLine,
} from '../../src/formats/file-shapes';

const ID = '01ARZ3NDEKTSV4RRFFQ69G5FAV';
const HASH = 'a'.repeat(64);
const profile = profileJson('skiff-16');
const WHEN = '2026-11-25T20:00:00.000Z';

const head = {
  format: ARCHIVE,
  version: 2,
  madeAt: WHEN,
  profile,
  desk: { name: 'Skiff 16', mode: 'live', safes: [] },
  production: { id: ID, name: 'Busking', kind: 'song' },
  versions: [{ id: ID, name: 'Main', status: 'working', scenes: [ID], autosaves: 0 }],
  parts: { 'in.1': 'fiddle' },
  venues: [{ name: 'Harbour', settings: { fiddle: { 'pan/position': 20 } } }],
  sound: false,
};
const line = {
  id: ID,
  versionId: ID,
  number: 1,
  name: 'Soundcheck',
  protected: false,
  kind: 'scene',
  parents: [],
  madeAt: WHEN,
  moved: { settings: 0, strips: [] },
  strips: { 'in.1': HASH },
};

function refusal(read: () => unknown): Pick<Fault, 'message' | 'where'> {
  try {
    read();
  } catch (error) {
    if (error instanceof Fault && error.code === 'refused-input') return error;
    throw error;
  }
  throw new Error('it was taken');
}

describe('an archive’s head', () => {
  test('is read, with what it leaves out as it usually is', () => {
    expect(readArchiveHead(head)).toMatchObject({
      production: { name: 'Busking', note: '' },
      parts: { 'in.1': 'fiddle' },
      mixNotes: [],
      atHand: [],
    });
  });

  test.each<[string, object, string]>([
    ['parts that are no words', { parts: { 'in.1': { name: 'fiddle' } } }, 'parts'],
    ['parts in a list', { parts: ['fiddle'] }, 'parts'],
    [
      'a venue whose settings are a number',
      { venues: [{ name: 'Harbour', settings: { fiddle: 20 } }] },
      'venues[0].settings',
    ],
    ['a venue without a name', { venues: [{ settings: {} }] }, 'venues[0].name'],
    ['a field that nobody knows', { recipe: 1 }, 'recipe'],
    ['a mode that no desk has', { desk: { ...head.desk, mode: 'party' } }, 'desk.mode'],
    ['an id that could be a path', { production: { ...head.production, id: '../../etc' } }, 'production.id'],
    ['a moment that is none', { madeAt: 'yesterday' }, 'madeAt'],
    ['nothing for its versions', { versions: null }, 'versions'],
  ])('with %s is refused, and says where', (_, change, where) => {
    expect(refusal(() => readArchiveHead({ ...head, ...change })).where).toBe(where);
  });

  test.each<[string, unknown, RegExp]>([
    ['another format', { ...head, format: 'another/format' }, /Not a file of the format old-echo\/archive/],
    ['no version', { ...head, version: undefined }, /does not say its version/],
    ['half a version', { ...head, version: 1.5 }, /does not say its version/],
    ['a version of tomorrow', { ...head, version: 3 }, /version 3 of its format; this Old Echo reads up to 2/],
    ['a list', [head], /Not a file/],
    ['nothing', null, /Not a file/],
  ])('%s is refused in a sentence', (_, json, said) => {
    expect(refusal(() => readArchiveHead(json)).message).toMatch(said);
  });

  test('of version 1 is read under the words of today', () => {
    const { venues, versions, ...rest } = head;
    const older = {
      ...rest,
      version: 1,
      versions: versions.map(({ status, autosaves, ...version }) => ({ ...version, work: status, kept: autosaves })),
      halls: venues.map((venue) => ({ ...venue, takenAt: WHEN })),
      wishes: [{ versionId: ID, text: 'More fiddle', at: 12.5, who: 'Tam', state: 'open' }],
      pins: [ID],
      outboard: [{ name: 'Plate', knobs: [{ name: 'decay', value: '2 s' }] }],
    };
    expect(readArchiveHead(older)).toMatchObject({
      version: 2,
      versions: [{ status: 'working', autosaves: 0 }],
      venues: [{ name: 'Harbour', capturedAt: WHEN }],
      mixNotes: [{ text: 'More fiddle', songSeconds: 12.5, requestedBy: 'Tam', status: 'open' }],
      atHand: [ID],
      outboard: [{ name: 'Plate', controls: [{ name: 'decay', value: '2 s' }] }],
    });
  });
});

describe('a library', () => {
  const library = { format: LIBRARY, version: 1, profiles: [profile] };
  const preset = { kind: 'kit', name: 'Pair', profileId: 'skiff-16', content: { 'in.1': { 'mute/on': false } } };

  test('of version 1 has strip sets where it had kits', () => {
    expect(readLibraryFile({ ...library, presets: [preset] }).presets.map(({ kind }) => kind)).toEqual(['strip set']);
  });

  test('of version 2 has no kits any more', () => {
    expect(refusal(() => readLibraryFile({ ...library, version: 2, presets: [preset] })).where).toBe('presets[0].kind');
  });

  test.each([
    ['null', [null]],
    ['a word', ['pair']],
    ['a list', [[]]],
    ['no list at all', 'pair'],
  ])('of version 1 with %s among its presets is refused, and nothing breaks', (_, presets) => {
    expect(refusal(() => readLibraryFile({ ...library, presets })).where).toMatch(/^presets/);
  });
});

describe('lines of an archive', () => {
  test('a scene is read, with what it leaves out', () => {
    expect(readSceneLine(line)).toMatchObject({
      name: 'Soundcheck',
      note: '',
      partial: false,
      strips: { 'in.1': HASH },
    });
  });

  test.each<[string, unknown, string]>([
    ['strips that point nowhere', { ...line, strips: { 'in.1': 7 } }, 'strips'],
    ['a number below none', { ...line, number: -1 }, 'number'],
    ['nothing', null, ''],
    ['a word', 'scene', ''],
  ])('a scene with %s is refused', (_, json, where) => {
    expect(refusal(() => readSceneLine(json)).where).toBe(where);
  });

  test.each<[string, unknown, string]>([
    ['no fingerprint', { settings: {} }, 'fingerprint'],
    ['one that is none', { fingerprint: 'abc', settings: {} }, 'fingerprint'],
    ['settings in a list', { fingerprint: HASH, settings: [] }, 'settings'],
  ])('a state with %s is refused', (_, json, where) => {
    expect(refusal(() => readStripLine(json)).where).toBe(where);
  });

  test('a state of version 1 is told by its names', () => {
    expect(readStripLine({ print: HASH, settings: { 'mute/on': true } })).toEqual({
      fingerprint: HASH,
      settings: { 'mute/on': true },
    });
  });
});
