import fastJsonPatch from 'fast-json-patch';
import microdiff from 'microdiff';

import { compare } from '@old-echo/core/compare/compare';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { parseProfile } from '@old-echo/core/desk/profile';
import { isNumberSpec, quantise } from '@old-echo/core/desk/setting';
import { defaultState, type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';

import { print, time } from './figure';

interface ProfileJson {
  readonly families: readonly { readonly id: string; readonly sections: Record<string, Record<string, unknown>> }[];
}

/** How often each is done. */
const ROUNDS = 501;

/** Two states of 288 strips with 200 settings each that differ in 1,440 settings on all strips, compared and ranked. */
export async function comparison(quay: ProfileJson): Promise<void> {
  const [inputs] = quay.families.filter(({ id }) => id === 'in');
  const [main] = quay.families.filter(({ id }) => id === 'main');
  if (!inputs || !main) return;
  const more = { 'spare/{1-145}': { kind: 'gain', unit: 'dB', min: -18, max: 18, step: 0.1, default: 0 } };
  // There are not as many sockets as strips.
  const { source: _, compressor, ...others } = inputs.sections;
  const sections = { ...others, compressor: { ...compressor, ...more } };
  const families = [{ ...inputs, count: 288, sections }, main];
  const profile = parseProfile({ id: 'large', name: 'Large', use: 'studio', families });
  const inputKeys = profile.families[0]?.settings ?? {};
  const up = Object.fromEntries(Array.from({ length: 288 }, (_, i) => [`in.${i + 1}/fader/level`, -10]));
  const a = withSettings(defaultState(profile), { ...up, 'main.1/fader/level': 0 });
  const changing = ['fader/level', 'eq/2/gain', 'compressor/threshold', 'sends/mix.3/level', 'pan/position'];
  const moves: Record<string, number> = {};
  for (let i = 1; i <= 288; i++)
    changing.forEach((key, n) => {
      const spec = inputKeys[key];
      if (spec && isNumberSpec(spec))
        moves[`in.${i}/${key}`] = quantise(spec, spec.min + ((spec.max - spec.min) * ((i * 7 + n * 13) % 31)) / 30);
    });
  const b = withSettings(a, moves satisfies SettingsByAddress);
  const read = (state: State): State => JSON.parse(JSON.stringify(state)) as State;
  const [one, other] = [read(a), read(b)];
  const micro = await time(() => microdiff(one, other), ROUNDS);
  const patch = await time(() => fastJsonPatch.compare(one, other), ROUNDS);
  console.error(`microdiff ${micro.toFixed(1)} ms, fast-json-patch ${patch.toFixed(1)} ms`);
  const faster = Math.min(micro, patch);
  const about = `288 strips of ${Object.keys(inputKeys).length} settings, ${Object.keys(moves).length} moved`;
  const name = `${about}: found and ranked`;
  const against = `other: the faster of microdiff and fast-json-patch, which only find them`;
  print({
    name: `${about}: found, not ranked (other: the same of the libraries)`,
    ours: await time(() => diffStates(profile, one, other), ROUNDS),
    other: faster,
    unit: 'ms',
    goal: { ratio: 10 },
  });
  const ours = await time(() => compare(profile, one, other), ROUNDS);
  print({ name: `${name} (${against})`, ours, other: faster, unit: 'ms', goal: { ratio: 10 } });
  print({ name: `${name} (the same, within one frame)`, ours, other: faster, unit: 'ms', goal: { most: 16 } });
  const fresh = Array.from({ length: 20 }, () => [read(a), read(b)] as const);
  let at = 0;
  const first = await time(() => {
    const [left, right] = fresh[at++ % fresh.length] ?? [one, other];
    return compare(profile, left, right);
  });
  print({
    name: `${name}, each state seen for the first time`,
    ours: first,
    other: faster,
    unit: 'ms',
    goal: { most: 16 },
  });
}
