import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { FileNode, ImportView } from '@old-echo/core/contracts/file-transfer';
import type { JobView } from '@old-echo/core/contracts/job';
import { Fault } from '@old-echo/core/fault/fault';

import { FileScreen } from '../../src/files/import-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, show } from '../show';

jest.setTimeout(60_000);
router.params = { file: '01FILE00000000000000000000' };

const leaf = (id: string, name: string, here: FileNode['here'] = 'new'): FileNode => ({
  id,
  name,
  under: '',
  here,
  children: [],
});
const parent = (id: string, name: string, children: readonly FileNode[]): FileNode => ({
  ...leaf(id, name, null),
  children,
});
const FILE: ImportView = {
  id: '01FILE00000000000000000000',
  name: 'night-ferry.zip',
  bytes: 120_000,
  format: 'archive',
  what: 'Night Ferry, a show with 2 versions.',
  fits: 'It fits Quay 48.',
  branches: [
    parent('versions', 'Versions', [leaf('versions/a', 'Main version'), leaf('versions/b', 'Broadcast', 'same')]),
    parent('sections', 'Sections', [leaf('sections/eq', 'EQ', null), leaf('sections/sends', 'Sends', null)]),
    leaf('venues', 'Venues', 'different'),
  ],
  into: [],
  madeFrom: null,
  job: null,
  resultPath: null,
  toConnect: null,
  madeAt: '2026-11-25T20:00:00.000Z',
};
const job = (of: Partial<JobView>): JobView => ({ status: 'running', done: 3, total: 10, why: '', ...of });
const progress = (of: Partial<JobView>, resultPath: string | null = null) => ({
  id: FILE.id,
  job: job(of),
  resultPath,
});

let server: FakeServer;
async function opened(file: Partial<ImportView> = {}, answers: Record<string, unknown> = {}) {
  router.navigate.mockClear();
  server = new FakeServer({
    import: { ...FILE, ...file },
    startImport: { ...FILE, job: job({}) },
    importProgress: progress({}),
    cancelImport: {},
    ...answers,
  });
  show(<FileScreen />);
  await screen.findByText('night-ferry.zip');
}
const box = (id: string) => screen.getByTestId(`include-${id}`);
const press = async (name: string | RegExp) => fireEvent.click(await screen.findByRole('button', { name }));
const sent = () => server.sentTo('startImport');

describe('what comes in is chosen', () => {
  test('at first all that is not here already; each thing says whether it is', async () => {
    await opened();
    expect(screen.getByText('already here')).toBeTruthy();
    expect(screen.getByText('differs here')).toBeTruthy();
    await press('Import 2 items');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toEqual({
      include: ['versions/a', 'sections/eq', 'sections/sends', 'venues'],
      replace: false,
      intoId: null,
    });
  });

  test('where every version is here, nothing comes in by itself', async () => {
    const [, sections] = FILE.branches;
    const branches = [
      parent('versions', 'Versions', [leaf('versions/a', 'Main version', 'same')]),
      parent('more', 'What belongs to it', [leaf('mixNotes', 'Mix notes', null)]),
      sections!,
    ];
    await opened({ branches });
    expect(isOff(screen.getByRole('button', { name: 'Nothing chosen' }))).toBe(true);
    fireEvent.click(box('versions'));
    expect(isOff(await screen.findByRole('button', { name: 'Import 1 item' }))).toBe(false);
  });

  const INTO = [
    { id: '01SONG', name: 'Lanterns' },
    { id: '01SHOW', name: 'Night Ferry' },
  ];

  test('what was made from a song of here goes into it, or becomes one of its own', async () => {
    await opened({ into: INTO, madeFrom: '01SHOW' });
    await press('Import 2 items');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toMatchObject({ intoId: '01SHOW' });
  });

  test('venues and the like need a version, or a song or show that they go into', async () => {
    await opened({ into: INTO });
    fireEvent.click(box('versions/a'));
    expect(isOff(screen.getByRole('button', { name: 'Import 1 item' }))).toBe(true);
    fireEvent.click(screen.getByRole('tab', { name: 'Lanterns' }));
    await press('Import 1 item');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toMatchObject({ include: expect.arrayContaining(['venues']) as string[], intoId: '01SONG' });
  });

  test('a scene goes into a song, and is asked which', async () => {
    await opened({ format: 'scene', into: INTO, branches: [leaf('scene', 'Reel'), FILE.branches[1]!] });
    expect(screen.queryByRole('tab', { name: 'New song or show' })).toBeNull();
    expect(screen.queryByTestId('replace')).toBeNull();
    await press('Import 1 item');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toEqual({
      include: ['scene', 'sections/eq', 'sections/sends'],
      replace: false,
      intoId: '01SONG',
    });
  });

  test('what is left out does not, and sections are told apart from things', async () => {
    await opened();
    fireEvent.click(box('sections/sends'));
    await press('Import 2 items, 1 of 2 sections');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toMatchObject({ include: ['versions/a', 'sections/eq', 'venues'] });
  });

  test('a branch takes or leaves all that is in it', async () => {
    await opened();
    fireEvent.click(box('versions'));
    fireEvent.click(box('venues'));
    await press('Import 2 items');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toMatchObject({ include: expect.arrayContaining(['versions/a', 'versions/b']) as string[] });
  });

  test('scenes of which no section comes in are nothing that can come in', async () => {
    await opened();
    fireEvent.click(box('sections'));
    expect(isOff(screen.getByRole('button', { name: 'Nothing chosen' }))).toBe(true);
  });

  test('without scenes, sections are not asked for', async () => {
    await opened({ into: INTO, madeFrom: '01SHOW' });
    fireEvent.click(box('versions/a'));
    fireEvent.click(box('sections'));
    expect(isOff(await screen.findByRole('button', { name: 'Import 1 item' }))).toBe(false);
  });

  test('what is here already is replaced only where that is asked for', async () => {
    await opened();
    fireEvent.click(screen.getByTestId('replace'));
    await press('Import 2 items');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]).toMatchObject({ replace: true });
  });
});

describe('once it was begun', () => {
  test('it can be cancelled, and says that nothing was imported', async () => {
    await opened();
    server.change({
      cancelImport: () => {
        server.change({ importProgress: progress({ status: 'cancelled' }) });
        return {};
      },
    });
    await press('Import 2 items');
    await press('Cancel');
    await waitFor(() => expect(server.sentTo('cancelImport')).toHaveLength(1));
    expect((await screen.findByTestId('ended')).textContent).toBe('Nothing was imported.');
  });

  test('a page opened afresh follows it on, and leads to what came in', async () => {
    await opened({ job: job({}) }, { importProgress: progress({ status: 'done' }, '/mixes/01PROD') });
    expect((await screen.findByTestId('ended')).textContent).toBe('Everything you chose is here.');
    await press('Open it');
    expect(router.navigate).toHaveBeenCalledWith('/mixes/01PROD');
  });

  test('one that failed says why, and what was chosen is still chosen', async () => {
    await opened();
    fireEvent.click(box('venues'));
    await press('Import 1 item');
    server.change({ importProgress: progress({ status: 'failed', why: 'The disk is full.' }) });
    await waitFor(() => expect(screen.getByTestId('ended').textContent).toBe('The disk is full.'));
    await press('Choose again');
    expect(await screen.findByRole('button', { name: 'Import 1 item' })).toBeTruthy();
  });

  test('one that is tried again after it failed is shown as at work, not as failed', async () => {
    await opened();
    server.change({ importProgress: progress({ status: 'failed', why: 'The disk is full.' }) });
    await press('Import 2 items');
    await screen.findByText('The disk is full.');
    await press('Choose again');
    server.change({ importProgress: progress({}) });
    await press('Import 2 items');
    await screen.findByText('Importing');
    expect(screen.queryByText('The disk is full.')).toBeNull();
  });

  test('one that is refused leaves all as it was', async () => {
    await opened({}, { startImport: new Fault('conflict', 'It is at work already.', 'Wait for its end.') });
    await press('Import 2 items');
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(await screen.findByRole('button', { name: 'Import 2 items' })).toBeTruthy();
  });
});
