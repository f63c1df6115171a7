import type { PersonView } from '@old-echo/core/contracts/person';
import type { Problem } from '@old-echo/core/contracts/problem';
import { type Role, ROLES } from '@old-echo/core/contracts/role';
import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';

import { Rig } from '../server-rig';
import { makeCertificate, networkSettings, Phone } from './network';

jest.setTimeout(180_000);

const certificate = makeCertificate();
let rig: Rig;
const phones = {} as Record<Role, Phone>;
beforeAll(async () => {
  rig = await Rig.open(networkSettings(certificate));
  for (const role of ROLES) {
    phones[role] = new Phone(rig, certificate.authority);
    await phones[role].letIn(`Phone of the ${role}`, role, `The ${role}`);
  }
});
afterAll(() => rig.close());

const typeOf = ({ body }: { readonly body: object }) => (body as Partial<Problem>).type;
const FORBIDDEN = 'urn:old-echo:forbidden';

const all: readonly (readonly [string, Route])[] = Object.values(ROUTES).flatMap((wing) => Object.entries(wing));
const nowhere = (path: string) => path.replaceAll(/:\w+/g, '01ARZ3NDEKTSV4RRFFQ69G5FAV');

/** What changes something and may all the same be asked for by a viewer, and then by an assistant besides. */
const BY_VIEWERS = [
  ...['previewRestore', 'previewRipple', 'stageSettings', 'startRender', 'cancelRender', 'saveBlindTest'],
  ...['previewConversion', 'readInputList', 'enter', 'signIn', 'signOut', 'setPassword'],
  ...['sayWord', 'addClientNote', 'choose'],
];
const BY_ASSISTANTS = [
  ...['captureScene', 'editScene', 'undoRemoval', 'addMixNote', 'editMixNote', 'removeMixNote'],
  ...['addOutboard', 'editOutboard', 'setOutboardPhoto', 'removeOutboard'],
];
/** What reaches a desk: of an assistant in the studio. */
const IN_THE_STUDIO = ['moveSettings', 'swap', 'startRestore', 'cancelRestore', 'markWalk', 'endWalk'];
/** What only looks, and is not for everybody. */
const EXPORTS = [
  'exportLibrary',
  'exportPreset',
  'exportScene',
  'exportContents',
  'exportProduction',
  'rendersArchive',
  'clientLinks',
  'bounce',
  'flacBounce',
];
const LOOKS_OF_ENGINEERS = ['nearbyDesks', 'wire', 'exportWire', 'imports', 'import', 'importProgress'];
const BY_OWNERS = [
  'people',
  'makeEntryCode',
  'editPerson',
  'forgetPassword',
  'removePerson',
  'shutOut',
  'changes',
  'forgetPin',
];

/** Whether somebody may ask for a route, as a table that is written by hand. */
function may(role: Role, name: string, { method }: Route): boolean {
  if (role === 'owner') return true;
  if (BY_OWNERS.includes(name)) return false;
  if (role === 'engineer' || BY_VIEWERS.includes(name)) return true;
  if (LOOKS_OF_ENGINEERS.includes(name)) return false;
  if (role === 'assistant' && [...BY_ASSISTANTS, ...EXPORTS, ...IN_THE_STUDIO].includes(name)) return true;
  return method === 'get' && !EXPORTS.includes(name);
}

describe.each(ROLES)('whoever is let in as %s', (role) => {
  test('is refused what this role may not do, each route of the API, and nothing else', async () => {
    const names = [...BY_VIEWERS, ...BY_ASSISTANTS, ...IN_THE_STUDIO, ...EXPORTS, ...LOOKS_OF_ENGINEERS, ...BY_OWNERS];
    expect(names.filter((name) => !all.some(([known]) => known === name))).toEqual([]);
    // The last device to be used for this: to sign out ends it.
    const phone = new Phone(rig, certificate.authority);
    await phone.letIn('To try everything', role);
    const found: [string, boolean][] = [];
    for (const [name, { method, path }] of [...all].sort(
      ([a], [b]) => Number(a === 'signOut') - Number(b === 'signOut'),
    )) {
      const answer = await phone.ask(method.toUpperCase(), nowhere(path), method === 'get' ? undefined : {});
      expect([name, typeOf(answer)]).not.toEqual([name, 'urn:old-echo:unavailable']);
      found.push([name, typeOf(answer) !== FORBIDDEN]);
    }
    expect(Object.fromEntries(found)).toEqual(
      Object.fromEntries(all.map(([name, route]) => [name, may(role, name, route)])),
    );
    expect(found.length).toBeGreaterThan(160);
  });
});

describe('what reaches a desk', () => {
  const restore = async (phone: Phone, by = '') => {
    const scenes = await phone.ask('GET', `/productions/${rig.production.id}/scenes?limit=1&ownOnly=true`);
    const [scene] = (scenes.body as unknown as ScenePage).scenes;
    const scope = [{ strips: ['in.1'], sections: ['mute'], include: true }];
    const recall = { deskId: rig.desk.id, sceneId: scene!.id, scope };
    return phone.ask('POST', `/desks/${rig.desk.id}/restores`, { recall, fingerprint: null, by });
  };
  const inMode = (mode: 'studio' | 'live') => rig.call('PATCH', `/desks/${rig.desk.id}`, { mode });
  const move = (phone: Phone) =>
    phone.ask('POST', `/desks/${rig.desk.id}/settings`, { settings: { 'in.1/pan/position': 3 } });

  test('is moved by an assistant in the studio, and never in a show; by a viewer never', async () => {
    await inMode('live');
    for (const answer of [await restore(phones.assistant), await move(phones.assistant)]) {
      expect(typeOf(answer)).toBe(FORBIDDEN);
      expect(answer.body['title']).toBe('Assistants reach a desk in studio mode only.');
    }
    const state = async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body['in.1']?.['pan/position'];
    expect(await state()).not.toBe(3);
    await inMode('studio');
    expect((await move(phones.assistant)).status).toBe(200);
    expect(await state()).toBe(3);
    expect(typeOf(await move(phones.viewer))).toBe(FORBIDDEN);
    expect(typeOf(await restore(phones.viewer))).toBe(FORBIDDEN);
    expect([202, 409]).toContain((await restore(phones.assistant)).status);
  });
});

describe('in one song or show', () => {
  const edit = async (name: string, edit: object) => {
    const { id } = (await rig.get<PersonView[]>('/people')).body.find((person) => person.name === name)!;
    return rig.call<PersonView>('PATCH', `/people/${id}`, edit);
  };
  const productions = async () =>
    (await rig.get<{ id: string; revision: number; versions: { id: string }[] }[]>('/productions')).body;
  const rename = async (phone: Phone, id: string) => {
    const { revision } = (await productions()).find((one) => one.id === id)!;
    return phone.ask('PATCH', `/productions/${id}`, { note: 'looked at', revision });
  };
  const capture = (phone: Phone, versionId: string) =>
    phone.ask('POST', `/desks/${rig.desk.id}/captures`, { versionId, name: `Tried ${performance.now()}` });

  test('somebody may do more there than elsewhere, or less; a request about both, or about none, as the lesser', async () => {
    const [here, there] = await productions();
    const phone = new Phone(rig, certificate.authority);
    await phone.letIn('Guest', 'viewer', 'A guest');
    expect((await edit('A guest', { productions: [{ productionId: here!.id, role: 'engineer' }] })).status).toBe(200);
    expect((await rename(phone, here!.id)).status).toBe(200);
    expect(typeOf(await rename(phone, there!.id))).toBe(FORBIDDEN);
    expect(typeOf(await capture(phone, there!.versions[0]!.id))).toBe(FORBIDDEN);
    expect((await capture(phone, here!.versions[0]!.id)).status).toBe(201);
    const both = { ids: [here!.id, there!.id] };
    expect(typeOf(await phone.ask('POST', '/productions/order', both))).toBe(FORBIDDEN);
    expect(typeOf(await phone.ask('PATCH', `/desks/${rig.desk.id}`, { mode: 'studio' }))).toBe(FORBIDDEN);

    await edit('A guest', { role: 'engineer', productions: [{ productionId: there!.id, role: 'viewer' }] });
    expect((await rename(phone, here!.id)).status).toBe(200);
    expect(typeOf(await rename(phone, there!.id))).toBe(FORBIDDEN);
    const { body } = await phone.ask('GET', `/productions/${there!.id}/scenes?limit=1`);
    const [scene] = (body as unknown as ScenePage).scenes;
    for (const path of ['bin', 'copy', 'move'])
      expect([
        path,
        typeOf(await phone.ask('POST', `/scenes/${scene!.id}/${path}`, { versionId: here!.versions[0]!.id })),
      ]).toEqual([path, FORBIDDEN]);
    // Into it neither, by whatever stands in the body.
    const [mine] = ((await phone.ask('GET', `/productions/${here!.id}/scenes?limit=1`)).body as unknown as ScenePage)
      .scenes;
    expect(typeOf(await phone.ask('POST', `/scenes/${mine!.id}/copy`, { versionId: there!.versions[0]!.id }))).toBe(
      FORBIDDEN,
    );
    expect((await phone.ask('GET', '/here')).body).toMatchObject({
      role: 'engineer',
      productions: [{ productionId: there!.id, role: 'viewer' }],
    });
  });

  test('a role is not said of what is not there, nor one that is none', async () => {
    for (const wrong of [
      { productions: [{ productionId: '01ARZ3NDEKTSV4RRFFQ69G5FAV', role: 'viewer' }] },
      { role: 'king' },
      { name: '' },
      { name: 'The owner' },
    ])
      expect([404, 409, 422]).toContain((await edit('The viewer', wrong)).status);
    expect((await rig.get<PersonView[]>('/people')).body.find(({ name }) => name === 'The viewer')?.role).toBe(
      'viewer',
    );
  });
});

describe('who did it', () => {
  test('is signed by the server, whatever a device says', async () => {
    const made = await phones.engineer.ask('POST', `/desks/${rig.desk.id}/captures`, {
      versionId: rig.production.versions[0]!.id,
      name: 'Signed',
      by: 'Somebody else',
    });
    expect((made.body as unknown as SceneView).by).toBe('The engineer, Phone of the engineer');
    const swapped = await rig.post<SceneView>(`/desks/${rig.desk.id}/captures`, {
      versionId: rig.production.versions[0]!.id,
      name: 'Signed here',
      by: 'Rosa',
    });
    expect(swapped.body.by).toBe('Rosa');
  });

  test('stands in a list, with the device, what it was and what it was done to; what is looked at does not', async () => {
    const { id } = (
      await rig.post<SceneView>(`/desks/${rig.desk.id}/captures`, {
        versionId: rig.production.versions[0]!.id,
        name: 'To be binned',
      })
    ).body;
    await phones.engineer.ask('GET', `/scenes/${id}`);
    await phones.engineer.ask('POST', `/scenes/${id}/bin`, {});
    await phones.viewer.ask('POST', `/scenes/${id}/bin`, {});
    const page = (await phones.owner.ask('GET', '/changes')).body as { changes: { person: string }[] };
    expect(page.changes.slice(0, 2)).toEqual([
      {
        ...{ id: expect.any(String) as string, at: expect.stringMatching(/^2\d{3}-/) as string },
        ...{ person: 'The engineer', device: 'Phone of the engineer' },
        ...{ does: 'Moves a scene to the bin.', about: 'To be binned' },
      },
      {
        ...{ id: expect.any(String) as string, at: expect.any(String) as string },
        ...{ person: '', device: '', does: 'Captures the whole desk as a new scene.', about: rig.desk.name },
      },
    ]);
    // What was refused is no change.
    expect(page.changes.map(({ person }) => person)).not.toContain('The viewer');
  });

  test('a fader that is drawn is one change; the list goes on where it ended', async () => {
    for (let i = 0; i < 30; i++)
      await phones.engineer.ask('POST', `/desks/${rig.desk.id}/settings`, { settings: { 'in.2/pan/position': i } });
    const first = (await phones.owner.ask('GET', '/changes')).body as {
      changes: { id: string; does: string; person: string }[];
      before: string | null;
    };
    const drawn = first.changes.filter(
      ({ does, person }) => person === 'The engineer' && does.startsWith('Sends settings'),
    );
    expect(drawn).toHaveLength(1);
    const last = first.changes.at(-1)!;
    const rest = (await phones.owner.ask('GET', `/changes?before=${last.id}`)).body as typeof first;
    expect(rest.changes.every(({ id }) => id < last.id)).toBe(true);
    expect(rest.before).toBeNull();
  });
});
