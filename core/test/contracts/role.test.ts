import fc from 'fast-check';

import { type Access, lowest, mayDo, type Role, ROLES } from '../../src/contracts/role';
import { accessOf, isChange, type Route } from '../../src/contracts/route';
import { ROUTES } from '../../src/contracts/routes/all-routes';

const ACCESSES: readonly Access[] = ['nothing', ...ROLES, 'in the studio'];
const role = fc.constantFrom(...ROLES);
const access = fc.constantFrom(...ACCESSES);

describe('what a role may do', () => {
  test('whoever may do something at a show may do it in the studio, and so may whoever may do more', () => {
    fc.assert(
      fc.property(access, role, role, (what, one, other) => {
        if (mayDo(what, one, false)) expect(mayDo(what, one, true)).toBe(true);
        const more: Role = lowest([one, other]) === one ? other : one;
        for (const isStudio of [false, true])
          if (mayDo(what, lowest([one, other]), isStudio)) expect(mayDo(what, more, isStudio)).toBe(true);
      }),
    );
  });

  test.each<[Access, boolean, readonly Role[]]>([
    ['nothing', false, ROLES],
    ['viewer', false, ROLES],
    ['assistant', false, ['assistant', 'engineer', 'owner']],
    ['in the studio', true, ['assistant', 'engineer', 'owner']],
    ['in the studio', false, ['engineer', 'owner']],
    ['engineer', true, ['engineer', 'owner']],
    ['owner', true, ['owner']],
  ])('%s, in the studio %s: %s', (what, isStudio, who) => {
    expect(ROLES.filter((one) => mayDo(what, one, isStudio))).toEqual(who);
  });

  test('whoever is not let in may do nothing but what takes nothing', () => {
    expect(ACCESSES.filter((what) => mayDo(what, null, true))).toEqual(['nothing']);
  });

  test('the lowest of several is among them, and none of them is lower', () => {
    fc.assert(
      fc.property(fc.array(role, { minLength: 1 }), (roles) => {
        const least = lowest(roles as [Role, ...Role[]]);
        expect(roles).toContain(least);
        for (const one of roles) expect(ROLES.indexOf(one)).toBeGreaterThanOrEqual(ROLES.indexOf(least));
      }),
    );
  });
});

describe('what a route takes', () => {
  const all = Object.values(ROUTES).flatMap((wing) => Object.entries<Route>(wing));

  test('where nothing is said, a viewer looks and an engineer changes', () => {
    expect(accessOf({ method: 'get', shapes: {} })).toBe('viewer');
    for (const method of ['post', 'put', 'patch', 'delete'] as const) {
      expect(accessOf({ method, shapes: {} })).toBe('engineer');
      expect(accessOf({ method, shapes: { looks: true } })).toBe('viewer');
    }
  });

  test('nothing that changes something is open to viewers, but what is their own', () => {
    const open = all.filter(([, route]) => isChange(route) && mayDo(accessOf(route), 'viewer', true));
    expect(open.map(([name]) => name).sort()).toEqual([
      ...['addClientNote', 'choose', 'enter', 'saveBlindTest', 'sayWord', 'setPassword', 'signIn', 'signOut'],
    ]);
  });

  test('what is open to whoever is not let in are the ways in, and what a link for clients leads to', () => {
    const open = all.filter(([, route]) => accessOf(route) === 'nothing').map(([name, { path }]) => [name, path]);
    expect(open.map(([name]) => name)).toEqual([
      'here',
      'enter',
      'signIn',
      'clientPage',
      'sayWord',
      'clientPiece',
      'clientFile',
      'addClientNote',
      'choose',
    ]);
    for (const [name, path] of open.slice(3)) expect([name, path?.startsWith('/listen/:token')]).toEqual([name, true]);
  });
});
