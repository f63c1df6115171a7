import fc from 'fast-check';

import { boathouse } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { diffStates } from '../../src/desk/diff-states';
import { defaultState, withSettings } from '../../src/desk/state';
import { settingsForVenue, venueSettings } from '../../src/library/venue';

describe('what a venue keeps', () => {
  const part = fc.constantFrom('fiddle', 'voice', 'room');
  const parts = fc.dictionary(fc.constantFrom('in.1', 'in.2', 'in.3', 'in.10', 'fx.1', 'fx.2'), part, { minKeys: 1 });

  test('kept and gone to at once nothing changes, whoever shares a part with whom', () => {
    let shared = 0;
    fc.assert(
      fc.property(anyState(boathouse), parts, (now, held) => {
        if (new Set(Object.values(held)).size < Object.keys(held).length) shared++;
        const settings = venueSettings(boathouse, settingsForVenue(held, now), held);
        expect(diffStates(boathouse, now, withSettings(now, settings))).toEqual([]);
        expect(new Set(Object.keys(settings).map((address) => address.split('/')[0]))).toEqual(
          new Set(Object.keys(held)),
        );
      }),
      { numRuns: runs(500) },
    );
    expect(shared).toBeGreaterThan(runs(500) / 5);
  });

  test('strips that share a part find their own again by their order, on other strips too', () => {
    const now = withSettings(defaultState(boathouse), { 'in.2/pan/position': -40, 'in.10/pan/position': 40 });
    const kept = settingsForVenue({ 'in.10': 'voice', 'in.2': 'voice' }, now);
    const there = venueSettings(boathouse, kept, { 'in.5': 'voice', 'in.30': 'voice' });
    expect([there['in.5/pan/position'], there['in.30/pan/position']]).toEqual([-40, 40]);
  });
});
