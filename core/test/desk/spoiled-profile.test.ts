import fc from 'fast-check';

import { profileJson } from '@old-echo/testing/profiles';
import { runs } from '@old-echo/testing/runs';
import { spoiledJson } from '@old-echo/testing/spoiled-json';

import { parseProfile, type Profile, specOf } from '../../src/desk/profile';
import { validateValue } from '../../src/desk/setting';
import { defaultState } from '../../src/desk/state';
import { Fault } from '../../src/fault/fault';

/** A profile, or the sentence that refuses it. */
function read(source: unknown): Profile | string {
  try {
    return parseProfile(source);
  } catch (error) {
    if (!(error instanceof Fault)) throw error;
    return error.message;
  }
}

test.each([[[null]], [['in']], [[[]]], [[{}]], [null], [{}]])(
  'families that are %j are refused with a sentence',
  (families) => {
    expect(read({ ...(profileJson('quay-48') as object), families })).toMatch(/^.{4,400}\.$/su);
  },
);

test.each(['quay-48', 'boathouse', 'skiff-16'])(
  '%s with anything wrong in it: refused with a sentence, or a desk that is whole',
  (id) => {
    let taken = 0;
    fc.assert(
      fc.property(spoiledJson(profileJson(id)), (source) => {
        const begun = process.cpuUsage();
        const profile = read(source);
        const { user, system } = process.cpuUsage(begun);
        expect((user + system) / 1000).toBeLessThan(2000);
        if (typeof profile === 'string') {
          expect(profile).toMatch(/^.{4,400}\.$/su);
          return;
        }
        taken++;
        for (const [strip, settings] of Object.entries(defaultState(profile)))
          for (const [key, value] of Object.entries(settings))
            expect(validateValue(specOf(profile, `${strip}/${key}`)!, value)).toEqual({ ok: true, value });
      }),
      { numRuns: runs(2000) },
    );
    expect(taken).toBeGreaterThan(0);
  },
);
