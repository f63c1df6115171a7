import { diff3Merge } from 'node-diff3';

import { mergeStates } from '@old-echo/core/combine/merge-states';
import { parseProfile } from '@old-echo/core/desk/profile';
import { isNumberSpec, quantise } from '@old-echo/core/desk/setting';
import {
  defaultState,
  type SettingsByAddress,
  type State,
  type StripState,
  withSettings,
} from '@old-echo/core/desk/state';

import { print, time } from './figure';

interface ProfileJson {
  readonly families: readonly { readonly id: string; readonly sections: Record<string, Record<string, unknown>> }[];
}

/** A strip's settings as lines, each behind a line that nobody changes, so that neighbours are not at odds. */
const linesOf = (strip: StripState = {}): string[] =>
  Object.entries(strip).flatMap(([key, value]) => [key, `${key} ${JSON.stringify(value)}`]);

/** 288 strips three ways: both sides moved five settings of every strip, two of them the same ones. */
export async function merging(quay: ProfileJson): Promise<void> {
  const [inputs, main] = ['in', 'main'].map((id) => quay.families.find((family) => family.id === id));
  if (!inputs || !main) return;
  // There are not as many sockets as strips.
  const { source: _, ...sections } = inputs.sections;
  const profile = parseProfile({
    id: 'large',
    name: 'Large',
    use: 'studio',
    families: [{ ...inputs, sections, count: 288 }, main],
  });
  const settings = profile.families[0]?.settings ?? {};
  const moved = (keys: readonly string[], by: number): SettingsByAddress =>
    Object.fromEntries(
      Array.from({ length: 288 }, (_, i) => i + 1).flatMap((i) =>
        keys.flatMap((key, n) => {
          const spec = settings[key];
          if (!spec || !isNumberSpec(spec)) return [];
          const part = ((i * by + n * 13) % 31) / 30;
          return [[`in.${i}/${key}`, quantise(spec, spec.min + (spec.max - spec.min) * part)] as const];
        }),
      ),
    );
  const fresh = (state: State): State => JSON.parse(JSON.stringify(state)) as State;
  const parent = fresh(defaultState(profile));
  const mine = fresh(withSettings(parent, moved(['fader/level', 'eq/2/gain', 'pan/position', 'sends/mix.1/level'], 7)));
  const theirs = fresh(
    withSettings(parent, moved(['fader/level', 'compressor/threshold', 'sends/mix.2/level', 'eq/3/gain'], 11)),
  );
  const ours = await time(() => mergeStates(profile, parent, mine, theirs));
  const other = await time(
    () =>
      profile.strips.map((strip) => diff3Merge(linesOf(mine[strip]), linesOf(parent[strip]), linesOf(theirs[strip]))),
    3,
  );
  print({
    name: `288 strips of ${Object.keys(settings).length} settings three ways (other: node-diff3 on the lines of each)`,
    ours,
    other,
    unit: 'ms',
    goal: { most: 50 },
  });
}
