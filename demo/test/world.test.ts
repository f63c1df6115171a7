import { ulid } from 'ulid';

import { countStrips, diffStates } from '@old-echo/core/desk/diff-states';
import { isAlike, linkedPartner } from '@old-echo/core/desk/linked-pair';
import { isManualDesk } from '@old-echo/core/desk/manual';
import { parseProfile, type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff, validateValue } from '@old-echo/core/desk/setting';
import type { State, StripState } from '@old-echo/core/desk/state';
import { MAX_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';
import { profileJson } from '@old-echo/testing/profiles';

import { makeWorld } from '../src/world';

const profiles = {
  'quay-48': profileJson('quay-48'),
  boathouse: profileJson('boathouse'),
  'skiff-16': profileJson('skiff-16'),
  'netloft-24': profileJson('netloft-24'),
};
const world = makeWorld({
  profiles,
  ports: { 'quay-48': 1, boathouse: 2, 'skiff-16': 3 },
  now: new Date('2026-05-01T20:00:00Z'),
  id: (madeAt) => ulid(madeAt.getTime()),
});
const { productions, desks } = world.seed;
const profileOf = (deskId: string): Profile => {
  const desk = desks.find((d) => d.id === deskId)!;
  return parseProfile(profiles[desk.profileId as keyof typeof profiles]);
};
const production = (name: string) => productions.find((p) => p.name === name)!;
const version = (name: string, of: string) => production(of).versions.find((v) => v.name === name)!;
const named = (of: string, line: string, scene: string): State =>
  version(line, of).scenes.find((s) => s.name === scene)!.state;
const on = (state: State, label: string): StripState =>
  Object.values(state).find((strip) => strip['label/name'] === label)!;

const everyScene = productions.flatMap((p) =>
  p.versions.flatMap((v) => v.scenes.map((scene) => [`${p.name}: ${scene.name}`, profileOf(p.deskId), scene] as const)),
);

describe('the demo', () => {
  test('the song has a main mix of six scenes, an instrumental and a broadcast edit, the show has eight, the spare desk stands by, the old one is turned by hand', () => {
    expect(version('Main mix', 'Lanterns on the Quay').scenes.filter((s) => s.kind === undefined)).toHaveLength(6);
    expect(version('Instrumental', 'Lanterns on the Quay').scenes.length).toBeGreaterThan(0);
    expect(version('Broadcast edit', 'Lanterns on the Quay').scenes.length).toBeGreaterThan(0);
    expect(version('The show', 'Night Ferry').scenes).toHaveLength(8);
    expect(version('As recorded', 'Low water').scenes).toHaveLength(3);
    expect(isManualDesk(profileOf(production('Low water').deskId))).toBe(true);
    expect(desks.map((d) => [d.name, d.mode])).toEqual([
      ['Quay 48', 'live'],
      ['Boathouse', 'studio'],
      ['Skiff 16', 'live'],
      ['Netloft 24', 'studio'],
    ]);
  });

  test.each(everyScene)('%s holds every setting of its desk, each at a value the desk takes', (_, profile, scene) => {
    const wrong = profile.families.flatMap((family) =>
      family.strips.flatMap((strip) =>
        family.keys.filter((key) => {
          const value = scene.state[strip]?.[key];
          const answer = validateValue(family.settings[key]!, value);
          return !answer.ok || JSON.stringify(answer.value) !== JSON.stringify(value);
        }),
      ),
    );
    expect(wrong).toEqual([]);
    expect(scene.name.length).toBeLessThanOrEqual(MAX_NAME_LENGTH);
  });

  test.each(everyScene)('%s holds linked strips that are alike', (_, profile, scene) => {
    const apart = Object.keys(scene.state).flatMap((strip) => {
      const half = linkedPartner(profile, scene.state, strip);
      const [here, there] = [scene.state[strip]!, (half && scene.state[half]) || scene.state[strip]!];
      return Object.keys(here)
        .filter((key) => isAlike(key) && JSON.stringify(here[key]) !== JSON.stringify(there[key]))
        .map((key) => `${strip}/${key}`);
    });
    expect(apart).toEqual([]);
  });

  test('every scene moves something that the one before did not have, but not half the desk', () => {
    for (const p of productions)
      for (const v of p.versions)
        v.scenes.slice(1).forEach((scene, i) => {
          const changes = diffStates(profileOf(p.deskId), v.scenes[i]!.state, scene.state);
          expect([scene.name, changes.length > 0, countStrips(changes) < 25]).toEqual([scene.name, true, true]);
        });
  });

  test('scenes are told in the order they were made, each from the one before', () => {
    for (const v of productions.flatMap((p) => p.versions)) {
      const times = v.scenes.map((scene) => scene.madeAt);
      expect(times).toEqual([...times].sort());
      // Nothing comes from what was kept by itself.
      v.scenes.slice(1).forEach((scene, i) => {
        const before = v.scenes.slice(0, i + 1).findLast((other) => other.kind === undefined)!;
        expect(scene.parents).toEqual([before.id]);
      });
      expect(new Set(v.scenes.map((scene) => scene.name)).size).toBe(v.scenes.length);
    }
  });

  test('the instrumental begins from a scene of the main mix and has the voices muted, nothing else muted', () => {
    const line = version('Instrumental', 'Lanterns on the Quay');
    const from = version('Main mix', 'Lanterns on the Quay').scenes.find((s) => s.id === line.fromSceneId)!;
    const muted = diffStates(profileOf(production('Lanterns on the Quay').deskId), from.state, line.scenes[0]!.state)
      .filter((change) => change.section === 'mute')
      .map((change) => line.scenes[0]!.state[change.strip]!['label/name']);
    expect(muted).toEqual(['Wren vox', 'Wren double', 'Tam vox']);
  });

  test('the Quay wakes up with a handful of settings drifted from the scene that stands on it', () => {
    const standing = version('The show', 'Night Ferry').scenes.find((s) => s.stands)!;
    const changes = diffStates(profileOf(production('Night Ferry').deskId), standing.state, world.desks['quay-48']);
    expect(changes.length).toBeGreaterThanOrEqual(5);
    expect(changes.length).toBeLessThanOrEqual(12);
  });
});

// Common practice, none of it from a published source: what an engineer would look for first.
describe('the demo is mixed as an engineer would', () => {
  const show = named('Night Ferry', 'The show', 'Last lantern');
  const song = named('Lanterns on the Quay', 'Main mix', 'Fiddle kept, hall back');

  test.each(everyScene)(
    '%s: EQ is used with care, and no fader that is open stands above +5 dB',
    (_, profile, scene) => {
      const loud = Object.entries(scene.state).flatMap(([strip, keys]) =>
        Object.entries(keys).flatMap(([key, value]) => {
          const spec = specOf(profile, `${strip}/${key}`)!;
          const boost = /^eq\/.*\/gain$/.test(key) && Number(value) > 6;
          const hot = key === 'fader/level' && isNumberSpec(spec) && Number(value) > 5;
          return boost || hot ? [`${strip}/${key}`] : [];
        }),
      );
      expect(loud).toEqual([]);
    },
  );

  test('voices are cut below, compressed, and sent to a reverb; the bass keeps its bottom', () => {
    for (const state of [show, song])
      for (const voice of ['Wren vox', 'Tam vox']) {
        const strip = on(state, voice);
        expect(strip).toMatchObject({ 'preamp/lowcut/on': true, 'compressor/on': true, 'eq/on': true });
        expect(Number(strip['compressor/ratio'])).toBeLessThanOrEqual(4);
        expect(Number(strip['preamp/lowcut/freq'])).toBeLessThanOrEqual(130);
      }
    expect(Number(on(show, 'Upright bass')['preamp/lowcut/freq'])).toBeLessThan(41);
  });

  test('the accordion’s two sides lie left and right, voices and bass in the middle', () => {
    expect(Number(on(song, 'Accordion L')['pan/position'])).toBeLessThan(-40);
    expect(Number(on(song, 'Accordion R')['pan/position'])).toBeGreaterThan(40);
    for (const name of ['Wren vox', 'Upright bass DI']) expect(on(song, name)['pan/position']).toBe(0);
  });

  test('the second of two microphones on the bass has its polarity turned', () => {
    expect([on(song, 'Upright bass DI'), on(song, 'Upright bass mic')].map((s) => s['preamp/polarity'])).toEqual([
      false,
      true,
    ]);
  });

  test('monitor sends are taken before the fader, effects after it', () => {
    const quay = profileOf(production('Night Ferry').deskId);
    for (const strip of quay.families.find((f) => f.id === 'in')!.strips)
      for (let mix = 1; mix <= 6; mix++) {
        const level = show[strip]![`sends/mix.${mix}/level`]!;
        if (!isOff(specOf(quay, `${strip}/sends/mix.${mix}/level`)!, level))
          expect([strip, mix, show[strip]![`sends/mix.${mix}/tap`]]).toEqual([strip, mix, 'pre']);
      }
  });

  test('the hall’s own microphones never reach the main, and are safe', () => {
    for (const name of ['Hall mic L', 'Hall mic R']) expect(on(show, name)['routing/main.1']).toBe(false);
    expect(JSON.stringify(desks[0].safes)).toContain('in.47');
  });

  test('doors are open with the stage closed and only the walk-in music up', () => {
    const doors = named('Night Ferry', 'The show', 'Doors, walk-in music');
    for (let n = 1; n <= 12; n++) expect(doors[`in.${n}`]!['mute/on']).toBe(true);
    expect([doors['in.45']!['mute/on'], doors['in.46']!['mute/on']]).toEqual([false, false]);
  });

  test('who plays what is said by the same names in the show and in the song, once each', () => {
    const [ferry, lanterns] = [production('Night Ferry'), production('Lanterns on the Quay')].map(({ parts = {} }) =>
      Object.values(parts),
    );
    for (const parts of [ferry!, lanterns!]) expect(new Set(parts).size).toBe(parts.length);
    const both = ferry!.filter((part) => lanterns!.includes(part));
    expect(both).toEqual(expect.arrayContaining(['Fiddle', 'Upright bass', 'Voice Wren', 'Voice Tam']));
  });

  test('in the open everything stands wider and the hall rings longer than indoors', () => {
    const [indoors, outdoors] = production('Night Ferry').venues!.map(({ settings }) => settings);
    const position = (venue: typeof indoors, part: string) => Math.abs(Number(venue![part]!['pan/position']));
    for (const part of ['Accordion treble', 'Accordion bass', 'Brass 1', 'Brass 2'])
      expect(position(outdoors, part)).toBeGreaterThan(position(indoors, part));
    expect(Number(outdoors!['Hall']!['inserts/time'])).toBeGreaterThan(Number(indoors!['Hall']!['inserts/time']));
  });

  test('the delays of the fills grow with their distance, as far as sound travels', () => {
    // 343 m/s at 20 °C: the balcony's 46 ms are about 16 m behind the stage edge.
    const [front, balcony] = [on(show, 'Front fill'), on(show, 'Balcony')].map((s) => Number(s['inserts/delay']));
    expect(front).toBeLessThan(balcony!);
    expect((balcony! / 1000) * 343).toBeGreaterThan(10);
    expect((balcony! / 1000) * 343).toBeLessThan(25);
  });
});
