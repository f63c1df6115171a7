import { act, fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeviceView, EntryCode } from '@old-echo/core/contracts/device';
import type { HereView, PersonView } from '@old-echo/core/contracts/person';
import { Fault } from '@old-echo/core/fault/fault';

import { EntryScreen } from '../../src/people/entry-screen';
import { OwnAccount } from '../../src/people/own-account';
import { PeopleScreen } from '../../src/people/people-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, PRODUCTION, show } from '../show';

const PHONE: DeviceView = {
  id: '01DEVCE0000000000000000000',
  name: 'Phone at front of house',
  madeAt: '2026-11-25T19:00:00.000Z',
  seenAt: '2026-11-25T20:14:00.000Z',
};
const ROSA: PersonView = {
  id: '01PERS00000000000000000000',
  name: 'Rosa Tidewell',
  role: 'engineer',
  productions: [],
  hasPassword: false,
  devices: [PHONE],
};
const HERE: HereView = { role: 'owner', productions: [], device: null, person: null, network: 'https' };
const ON_PHONE: HereView = {
  ...{ ...HERE, role: 'engineer', device: PHONE },
  person: { id: ROSA.id, name: ROSA.name, hasPassword: false },
};
const codeFor = (seconds: number): EntryCode => ({
  code: 'K7Q2M9XH4T',
  endsAt: new Date(new Date().getTime() + seconds * 1000).toISOString(),
  addresses: ['https://192.0.2.7:4651', 'https://198.51.100.3:4651'],
});
const button = (name: string | RegExp) => screen.getByRole('button', { name });
const press = (name: string | RegExp) => fireEvent.click(button(name));
const type = (field: string, value: string) =>
  act(() => void fireEvent.change(screen.getByTestId(field), { target: { value } }));

beforeEach(() => {
  router.params = {};
});

describe('letting somebody in', () => {
  test('asks who it is and what they may do, and shows a code in words and as a picture', async () => {
    const server = new FakeServer({ here: HERE, people: [ROSA], makeEntryCode: codeFor(120) });
    show(<PeopleScreen />);
    await screen.findByText('Phone at front of house');
    press('Let somebody in');
    expect(isOff(button('Show the code'))).toBe(true);
    type('person-name', ' Ines ');
    fireEvent.click(screen.getByRole('radio', { name: 'Assistant' }));
    press('Show the code');
    expect((await screen.findByTestId('entry-code')).textContent).toBe('K7Q2M 9XH4T');
    expect(server.sentTo('makeEntryCode')).toEqual([{ name: 'Ines', role: 'assistant' }]);
    expect(screen.getByText(/another network: https:\/\/198\.51\.100\.3:4651/)).toBeTruthy();
    expect(screen.getByRole('img', { name: 'https://192.0.2.7:4651/enter, code K7Q2M 9XH4T' })).toBeTruthy();
    expect(screen.getByText(/^Good for one device, for another 1[12]\d s\.$/)).toBeTruthy();

    // Somebody comes in: it says who, and the code is gone.
    const tablet = { ...PHONE, id: '01DEVCE0000000000000000001', name: 'Monitors', madeAt: new Date().toISOString() };
    const ines = { ...ROSA, id: '01PERS00000000000000000001', name: 'Ines', devices: [tablet] };
    server.change({ people: [ROSA, ines] });
    await screen.findByText('Monitors is in.');
    expect(screen.queryByTestId('entry-code')).toBeNull();
    // Another device of hers, not another one of her name.
    press('Let in on another device');
    await waitFor(() => expect(server.sentTo('makeEntryCode').at(-1)).toEqual({ personId: ines.id }));
  });

  test('who is known already by that name gets one more device', async () => {
    const server = new FakeServer({ here: HERE, people: [ROSA], makeEntryCode: codeFor(120) });
    show(<PeopleScreen />);
    await screen.findByText('Phone at front of house');
    press('Let somebody in');
    type('person-name', 'rosa tidewell');
    expect(screen.queryByRole('radio', { name: 'Viewer' })).toBeNull();
    press('Show the code');
    await screen.findByTestId('entry-code');
    expect(server.sentTo('makeEntryCode')).toEqual([{ personId: ROSA.id }]);
  });

  test('a code that is over says so, and another is made', async () => {
    const server = new FakeServer({ here: HERE, people: [], makeEntryCode: codeFor(0) });
    show(<PeopleScreen />);
    await screen.findByText('Nobody is let in');
    press('Let somebody in');
    type('person-name', 'Ines');
    press('Show the code');
    await screen.findByText('The two minutes are over.');
    server.change({ makeEntryCode: codeFor(60) });
    press('New code');
    await screen.findByTestId('entry-code');
    expect(server.sentTo('makeEntryCode')).toHaveLength(2);
  });

  test('where the network does not reach it, it says how that is changed', async () => {
    new FakeServer({ here: { ...HERE, network: null }, people: [] });
    show(<PeopleScreen />);
    await screen.findByText('Nobody is let in');
    expect(isOff(button('Let somebody in'))).toBe(true);
  });

  test('is nothing for those who may not, and they ask for no list', async () => {
    const server = new FakeServer({ here: ON_PHONE });
    show(<PeopleScreen />);
    await screen.findByText('Owners let people in and shut them out.');
    expect(screen.queryByRole('button', { name: 'Let somebody in' })).toBeNull();
    expect(server.sentTo('people')).toEqual([]);
  });
});

describe('somebody who is in', () => {
  const open = async (person = ROSA) => {
    const server = new FakeServer({
      ...{ here: HERE, people: [person], productions: [PRODUCTION] },
      ...{ editPerson: person, forgetPassword: person, removePerson: {} },
    });
    show(<PeopleScreen />);
    await screen.findByText('Phone at front of house');
    press('More about Rosa Tidewell');
    return server;
  };

  test('may do more or less from then on, everywhere or in one song or show', async () => {
    const server = await open();
    fireEvent.click(screen.getByRole('radio', { name: 'Viewer' }));
    await waitFor(() => expect(server.sentTo('editPerson')).toEqual([{ role: 'viewer' }]));
    fireEvent.click(await screen.findByRole('button', { name: 'Otherwise in one song or show' }));
    fireEvent.click(screen.getByRole('tab', { name: 'Assistant' }));
    const there = { productionId: PRODUCTION.id, role: 'assistant' };
    await waitFor(() => expect(server.sentTo('editPerson').at(-1)).toEqual({ productions: [there] }));
  });

  test('has a role in a song or show no longer that is the one elsewhere', async () => {
    const server = await open({ ...ROSA, productions: [{ productionId: PRODUCTION.id, role: 'viewer' }] });
    expect(screen.getByText('Engineer, otherwise in one song or show')).toBeTruthy();
    await screen.findByRole('tab', { name: 'Viewer', selected: true });
    fireEvent.click(screen.getByRole('tab', { name: 'Engineer' }));
    await waitFor(() => expect(server.sentTo('editPerson')).toEqual([{ productions: [] }]));
  });

  test('is renamed, but to nothing', async () => {
    const server = await open();
    expect(screen.queryByRole('button', { name: 'Rename' })).toBeNull();
    type('person-name', '  ');
    expect(isOff(button('Rename'))).toBe(true);
    type('person-name', 'Rosa T.');
    press('Rename');
    await waitFor(() => expect(server.sentTo('editPerson')).toEqual([{ name: 'Rosa T.' }]));
  });

  test('has a password taken away where there is one', async () => {
    const server = await open({ ...ROSA, hasPassword: true });
    press('Take the password away');
    await waitFor(() => expect(server.sentTo('forgetPassword')).toHaveLength(1));
  });
});

describe('a phone that is not let in', () => {
  test('brings its code along, needs a name, and reads why it is not let in', async () => {
    router.params = { code: 'K7Q2M9XH4T' };
    const server = new FakeServer({
      here: { ...HERE, role: null },
      enter: new Fault('not-let-in', 'This code lets nobody in.', 'Ask for another one.'),
    });
    show(<EntryScreen />);
    expect(screen.getByTestId<HTMLInputElement>('entry-code').value).toBe('K7Q2M9XH4T');
    expect(isOff(button('Go in'))).toBe(true);
    type('device-name', ' Phone ');
    press('Go in');
    await screen.findByText('This code lets nobody in.');
    expect(server.sentTo('enter')).toEqual([{ code: 'K7Q2M9XH4T', name: 'Phone' }]);
    server.change({ enter: PHONE });
    press('Go in');
    await waitFor(() => expect(server.sentTo('enter')).toHaveLength(2));
  });

  test('gets in by a password, and what is wrong with it is not said of the code', async () => {
    const server = new FakeServer({
      here: { ...HERE, role: null },
      signIn: new Fault('wrong-secret', 'Nobody is let in by this name and password.', 'Try again.'),
    });
    show(<EntryScreen />);
    fireEvent.click(await screen.findByRole('tab', { name: 'By a password' }));
    type('person-name', 'Rosa Tidewell');
    type('password', 'harbour violet thimble eleven');
    type('device-name', 'Tablet');
    press('Go in');
    await screen.findByText('Nobody is let in by this name and password.');
    expect(server.sentTo('signIn')).toEqual([
      { name: 'Rosa Tidewell', password: 'harbour violet thimble eleven', device: 'Tablet' },
    ]);
    fireEvent.click(screen.getByRole('tab', { name: 'By a code' }));
    expect(screen.queryByText('Nobody is let in by this name and password.')).toBeNull();
  });

  test('is asked for no password where nothing is encrypted', async () => {
    const server = new FakeServer({ here: { ...HERE, role: null, network: 'http' } });
    show(<EntryScreen />);
    await waitFor(() => expect(server.sentTo('here')).toHaveLength(1));
    expect(screen.queryByRole('tab', { name: 'By a password' })).toBeNull();
  });
});

describe('one’s own account', () => {
  test('is nothing at the machine itself', async () => {
    const server = new FakeServer({ here: HERE });
    const { container } = show(<OwnAccount />);
    await waitFor(() => expect(server.sentTo('here')).toHaveLength(1));
    expect(container.textContent).toBe('');
  });

  test('says who one is; a password is set once it was typed twice, and the one of before was', async () => {
    const server = new FakeServer({
      here: { ...ON_PHONE, person: { id: ROSA.id, name: ROSA.name, hasPassword: true } },
      setPassword: {},
      signOut: {},
    });
    show(<OwnAccount />);
    await screen.findByText('Engineer: everything about desks and mixes.');
    press('Change the password');
    type('new-password', 'gravel monday ribbon');
    type('same-password', 'gravel monday ribbons');
    expect(isOff(button('Save'))).toBe(true);
    type('same-password', 'gravel monday ribbon');
    expect(isOff(button('Save'))).toBe(true);
    type('current-password', 'harbour violet');
    press('Save');
    await waitFor(() =>
      expect(server.sentTo('setPassword')).toEqual([
        { current: 'harbour violet', password: 'gravel monday ribbon', signOutOthers: true },
      ]),
    );
    await waitFor(() => expect(screen.queryByTestId('new-password')).toBeNull());
    press('Sign out');
    await waitFor(() => expect(server.sentTo('signOut')).toHaveLength(1));
  });
});
