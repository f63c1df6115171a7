import type { Href } from 'expo-router';
import { useEffect, useRef, useState } from 'react';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { batchEdit } from '@old-echo/core/desk/batch-edit';
import { withHalves } from '@old-echo/core/desk/linked-pair';
import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { displayName, type SettingsByAddress, type State, valueAt } from '@old-echo/core/desk/state';
import { putOnStrips } from '@old-echo/core/library/apply-preset';
import { PROCESSORS } from '@old-echo/core/library/preset';
import { showOffset } from '@old-echo/core/phrases/format-value';
import { compileScope, decisionFor } from '@old-echo/core/recall/compile-scope';

import { useLazyProfileQuery } from '../../store/desk-api';
import { useLazyPresetQuery } from '../../store/library-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { useRunAndNotify } from '../../store/use-run-and-notify';
import { useStageSettings } from '../use-stage-settings';
import { useMeasuredLoudness } from './use-measured-loudness';

/** How long a preset waits for its loudness until it is put on the desk as loud as it is, in ms; its level then follows. */
const LEVEL_WAIT_MS = 700;
/** The same where it is put over a preview, in ms: a level that comes later is left out. */
const MAX_LEVEL_WAIT_MS = 5000;

const FADER = 'fader/level';

interface Tried {
  /** The strips as they were before the first. */
  readonly before: State;
  readonly preset: PresetView;
}

interface TriedPreset {
  /** The one that is on the strip, or on its way there. */
  readonly preset: PresetView | undefined;
  readonly turnTo: (preset: PresetView) => void;
  /** The strip as it was before the first one. */
  readonly putBack: () => void;
  readonly keep: () => void;
  /** What became of the last one, and of its level. */
  readonly told: string;
  readonly level: string;
  /** Where its preview is, of one that has to be looked at first. */
  readonly stopped: Href | null;
  readonly isAtOnce: boolean;
  /** Whether the fader makes up for what presets change in loudness; undefined where there is no stem to measure it on. */
  readonly isMatched: boolean | undefined;
  readonly match: (on: boolean) => void;
}

/**
 * One preset after the other on a strip, its processing only: each on what the strip was, so that none hides in the next. As louder
 * passes for better (common practice), its fader moves against what a preset changes in loudness, measured on the strip's stem.
 */
export function useTriedPreset(now: LiveDesk, strip: string): TriedPreset {
  const { desk, profile, state } = now;
  const [fetchPreset] = useLazyPresetQuery();
  const [fetchProfile] = useLazyProfileQuery();
  const done = useRunAndNotify();
  const { put, isAtOnce } = useStageSettings();
  const measure = useMeasuredLoudness(now, strip);
  const [wantsMatch, match] = useState(true);
  const [tried, setTried] = useState<Tried | null>(null);
  // The one touched last: what was read or measured for one that another took the place of is put nowhere.
  const latest = useRef<Tried | null>(null);
  useEffect(() => () => void (latest.current = null), []);
  // What presets have moved since the first, as it was before; and wherever its faders were put for them.
  const moved = useRef<Record<string, Value>>({});
  const faders = useRef<SettingsByAddress[]>([]);
  const landings = useRef(0);
  const [told, setTold] = useState('');
  const [level, setLevel] = useState('');
  const [stopped, setStopped] = useState<Href | null>(null);
  const strips = withHalves(profile, state, [strip]);
  const name = displayName(profile, state, strip);
  /** Puts settings on the strips, and whatever presets moved before them back to what it was. */
  const land = (settings: SettingsByAddress, preset: PresetView | null) => {
    const own = ++landings.current;
    // What one says that another took the place of is not said of that.
    setTold('');
    put(
      {
        deskId: desk.id,
        title: preset ? `${preset.name} on ${name}` : `${name} as it was`,
        settings: { ...moved.current, ...settings },
        appliedPresets: preset
          ? strips.map((one) => ({ strip: one, presetId: preset.id, edition: preset.edition }))
          : [],
      },
      undefined,
      { tell: (said) => own === landings.current && setTold(said), onStopped: setStopped },
    );
  };
  /** Answers the touch before anything is read, so that the next one goes on from there. */
  const show = (next: Tried | null) => {
    latest.current = next;
    setTried(next);
    setTold('');
    setLevel('');
    setStopped(null);
  };
  const turnTo = async (preset: PresetView) => {
    const before = tried?.before ?? Object.fromEntries(strips.map((one) => [one, state[one] ?? {}]));
    const next = { before, preset };
    const isWanted = () => latest.current === next;
    if (!tried) [moved.current, faders.current] = [{}, []];
    show(next);
    const detail = await done(fetchPreset(preset.id, true), () => '');
    const of = detail && (await done(fetchProfile(detail.profileId, true), () => ''));
    if (!isWanted()) return;
    if (!detail || !of) return show(tried);
    const source = { kind: detail.kind, profile: of, content: detail.content };
    const options = { sections: new Set(PROCESSORS), withPatch: false };
    const { settings } = putOnStrips(source, profile, before, strips, options);
    // A fader that stands where no preset has put it was moved by a hand: that is what it comes back to.
    const isOurs = ([address, value]: [string, Value]) =>
      [value, ...faders.current.map((put) => put[address])].includes(valueAt(state, address)) ||
      !faders.current.some((put) => address in put);
    moved.current = Object.fromEntries(Object.entries(moved.current).filter(isOurs));
    const without = { ...moved.current };
    const faderOf = (one: string) => without[`${one}/${FADER}`] ?? state[one]?.[FADER];
    /** @param lu what the preset changes in loudness; undefined where that is not made up for */
    const landWith = (lu?: number) => {
      const base = Object.fromEntries(strips.map((one) => [one, { [FADER]: faderOf(one) ?? '' }]));
      const put = lu === undefined ? {} : batchEdit(profile, base, strips, FADER, { by: -lu });
      faders.current.push(put);
      land({ ...settings, ...put }, preset);
      for (const [address, value] of [...valuesAt(before, settings), ...valuesAt(base, put)])
        moved.current[address] ??= value;
      return put;
    };
    if (!measure || !wantsMatch) return void landWith();
    const held = compileScope(profile, [], desk.safes);
    if (strips.some((one) => decisionFor(held, one, FADER) === 'safe')) {
      landWith();
      return setLevel('Its fader is safe, so its level is not matched.');
    }
    setLevel('Measuring its level …');
    // Measured against what was, also where the preset is on the desk by then.
    const sides = [
      { ...Object.fromEntries(valuesAt(before, settings)), ...without },
      { ...without, ...settings },
    ];
    const measured = Promise.all(sides.map((side) => measure(side, isWanted))).then(([a, b]) =>
      a == null || b == null ? null : b - a,
    );
    // A preview is made once, so its level has to be known by then; what lands at once can be corrected.
    const wait = isAtOnce ? LEVEL_WAIT_MS : MAX_LEVEL_WAIT_MS;
    const early = await Promise.race([measured, new Promise<'late'>((on) => setTimeout(on, wait, 'late'))]);
    if (!isWanted()) return;
    if (early === 'late') landWith();
    const lu = isAtOnce || early !== 'late' ? await measured : null;
    if (!isWanted()) return;
    const put = lu !== null ? landWith(lu) : early !== 'late' ? landWith() : {};
    setLevel(
      describeLevel(
        specOf(profile, `${strip}/${FADER}`),
        lu,
        Number(put[`${strip}/${FADER}`]) - Number(faderOf(strip)),
      ),
    );
  };
  return {
    preset: tried?.preset,
    turnTo: (preset) => void turnTo(preset),
    putBack: () => {
      show(null);
      if (Object.keys(moved.current).length > 0) land({}, null);
    },
    keep: () => show(null),
    told,
    level,
    stopped,
    isAtOnce,
    isMatched: measure && wantsMatch,
    match,
  };
}

const valuesAt = (state: State, of: SettingsByAddress): [string, Value][] =>
  Object.keys(of).flatMap((address) => {
    const value = valueAt(state, address);
    return value === undefined ? [] : [[address, value]];
  });

/**
 * What became of the level of what was tried.
 * @param lu what the preset changes in loudness; null where that is not known
 * @param by what the fader was moved by, in dB; NaN where it was not
 */
function describeLevel(spec: SettingSpec | undefined, lu: number | null, by: number): string {
  if (lu === null) return 'Its level could not be measured.';
  if (!spec || !isNumberSpec(spec) || Number.isNaN(by)) return 'Its fader is off, so its level is not matched.';
  const left = lu + by;
  const isMatched = Math.abs(left) <= spec.step;
  const than = `${Math.abs(left).toFixed(1)} dB ${left > 0 ? 'louder' : 'quieter'} than it was`;
  return `Fader ${showOffset(spec, by)}: ${isMatched ? 'as loud as it was' : `that is as far as it goes, ${than}`}.`;
}
