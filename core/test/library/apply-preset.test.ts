import { boathouse, quay } from '@old-echo/testing/profiles';

import { batchEdit } from '../../src/desk/batch-edit';
import { defaultState, withSettings } from '../../src/desk/state';
import {
  changedSinceApplied,
  type PresetSource,
  putOnDesk,
  putOnStrips,
  SOUND_SECTIONS,
} from '../../src/library/apply-preset';
import { presetContent, processorOf } from '../../src/library/preset';
import { preview } from '../../src/recall/preview';
import { ALL_EXCEPT_GLOBALS } from '../../src/recall/scope-rules';

describe('presets on strips', () => {
  const voice = withSettings(defaultState(boathouse), {
    'in.10/label/name': 'Wren vox',
    'in.10/source/socket': 'Track 3',
    'in.10/eq/on': true,
    'in.10/eq/3/gain': 3,
    'in.10/inserts/2/kind': 'de-ess',
    'in.10/inserts/2/on': true,
    'in.10/inserts/2/de-ess/freq': 7000,
    'in.10/fader/level': -4,
  });
  const whole: PresetSource = {
    kind: 'strip',
    profile: boathouse,
    content: presetContent('strip', boathouse, voice, 'in.10'),
  };
  const sound = { sections: new Set(SOUND_SECTIONS), withPatch: false };

  test('a strip preset put on another strip leaves that strip’s input alone (common practice)', () => {
    const all = { sections: new Set(boathouse.families[0]!.sections), withPatch: false };
    const { settings } = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20', 'in.21'], all);
    expect(settings['in.20/eq/3/gain']).toBe(3);
    expect(settings['in.21/fader/level']).toBe(-4);
    expect(Object.keys(settings).filter((address) => address.includes('/source/'))).toEqual([]);
    const patched = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20'], { ...all, withPatch: true });
    expect(patched.settings['in.20/source/socket']).toBe('Track 3');
  });

  test('its sound comes along, its place in the mix does not', () => {
    const { settings } = putOnStrips(whole, boathouse, defaultState(boathouse), ['in.20'], sound);
    expect(settings['in.20/eq/3/gain']).toBe(3);
    expect(settings['in.20/fader/level']).toBeUndefined();
    expect(settings['in.20/label/name']).toBeUndefined();
  });

  test('an insert takes the place of one of its kind, else the first that is free, else it says why not', () => {
    const content = { 'in.10': processorOf(voice['in.10']!, 'inserts', 2) };
    const deEss: PresetSource = { kind: 'processor', profile: boathouse, content };
    const options = { sections: new Set(['inserts']), withPatch: false };
    const now = withSettings(defaultState(boathouse), {
      'in.1/inserts/3/kind': 'de-ess',
      'in.2/inserts/1/kind': 'drive',
      ...Object.fromEntries([1, 2, 3, 4].map((n) => [`in.3/inserts/${n}/kind`, 'echo'])),
    });
    const { settings, notes } = putOnStrips(deEss, boathouse, now, ['in.1', 'in.2', 'in.3'], options);
    expect(settings['in.1/inserts/3/de-ess/freq']).toBe(7000);
    expect(settings['in.2/inserts/2/kind']).toBe('de-ess');
    expect(notes).toEqual([
      expect.objectContaining({ strip: 'in.3', from: 'de-ess', to: undefined, why: 'no insert free' }),
    ]);
  });

  test('a strip knows how far it moved away from what landed on it', () => {
    const { settings } = putOnStrips(whole, boathouse, voice, ['in.20'], sound);
    const landed = withSettings(voice, settings);
    expect(changedSinceApplied(boathouse, landed, settings)).toEqual([]);
    expect(changedSinceApplied(boathouse, withSettings(landed, { 'in.20/eq/3/gain': 1 }), settings)).toEqual([
      'in.20/eq/3/gain',
    ]);
  });

  test('a gain that comes from elsewhere is to be checked', () => {
    const target = withSettings(defaultState(quay), { 'in.5/preamp/gain': 41 });
    const what = {
      profile: quay,
      now: defaultState(quay),
      target,
      scope: ALL_EXCEPT_GLOBALS,
      safes: [],
      mode: 'live' as const,
    };
    expect(preview({ ...what, elsewhere: true }).cautions.map(({ kind, weight }) => [kind, weight])).toContainEqual([
      'source',
      'care',
    ]);
    expect(preview(what).cautions.some(({ kind }) => kind === 'source')).toBe(false);
  });

  test('a template is a desk without its sound; a patch brings what feeds the inputs only when asked', () => {
    const content = presetContent('template', boathouse, voice);
    const keys = new Set(Object.values(content).flatMap((settings) => Object.keys(settings)));
    expect([...keys].filter((key) => /^(fader|eq|compressor|gate|mute|sends)\//.test(key))).toEqual([]);
    const patch: PresetSource = {
      kind: 'patch',
      profile: boathouse,
      content: presetContent('patch', boathouse, voice),
    };
    const options = { sections: new Set(['source', 'routing']), withPatch: false };
    const sockets = ({ settings }: ReturnType<typeof putOnDesk>) =>
      Object.keys(settings).filter((address) => address.endsWith('/source/socket'));
    expect(sockets(putOnDesk(patch, boathouse, options))).toEqual([]);
    expect(sockets(putOnDesk(patch, boathouse, { ...options, withPatch: true })).length).toBe(40);
  });

  test('several strips move by the same step: inside the range, and what is off stays off', () => {
    const now = withSettings(defaultState(quay), {
      'in.1/fader/level': -10,
      'in.2/fader/level': 8,
      'in.3/fader/level': -90,
    });
    expect(batchEdit(quay, now, ['in.1', 'in.2', 'in.3'], 'fader/level', { by: 3 })).toEqual({
      'in.1/fader/level': -7,
      'in.2/fader/level': 10,
    });
    expect(batchEdit(quay, now, ['in.1', 'main.1'], 'preamp/phantom', { to: true })).toEqual({
      'in.1/preamp/phantom': true,
    });
  });
});
