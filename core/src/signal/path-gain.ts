import { controlStrips, type Profile, stripFamily } from '../desk/profile';
import { asLane, isOff } from '../desk/setting';
import type { State, StripState } from '../desk/state';
import { dbToFactor, factorToDb } from './sound';
import { AUDIBLE_PATH_GAIN_DB } from './thresholds';

/** What a pad takes away, in dB. Common practice. */
export const PAD_DB = -20;

/** Output → source → dB from the socket to the output; −Infinity where nothing passes. */
type PathGains = Readonly<Record<string, Readonly<Record<string, number>>>>;

/** A path from a socket to an output. */
export interface Path {
  /** Factors, one for each frequency that was looked at. */
  readonly by: Float64Array;
  /** The highest of them. */
  readonly most: number;
}

/** Output → source → the path between them. */
export type PathFactors = Readonly<Record<string, Readonly<Record<string, Path>>>>;

/** Families whose strips are outputs of a desk. */
export const OUTPUT_FAMILIES: readonly string[] = ['main', 'mix', 'matrix'];
const SOURCE_FAMILIES: readonly string[] = ['in', 'fx'];

/** What else than levels, mutes and routing is taken into account. */
export interface PathView {
  /** Factors of what a strip does in front of its fader, one for each frequency; undefined where it changes nothing. */
  readonly processing?: (strip: string) => Float64Array | undefined;
  /** How many frequencies those are. */
  readonly frequencies?: number;
  /** Whether a lane of automation counts by the highest it reaches, and a mute's lane as open where it opens anywhere. */
  readonly lanes?: boolean;
  /** As if nothing were muted. */
  readonly opened?: boolean;
}

/** Factors by output. */
type FactorByOutput = Map<string, Float64Array>;

/**
 * The gain of every path from an input or an effect return to every output: preamp gain and pad, fader or send (pre or
 * post fader), the DCAs, mute groups and groups on its way, and the output's own fader. Where several ways lead to one output, their
 * factors are added, as if they met in phase: the most that can arrive. What a mute closes passes nothing, pre-fader sends
 * included. Ways through an effect return count as if it passed on all it gets.
 */
export function pathGains(profile: Profile, state: State): PathGains {
  const factors = pathFactors(profile, state);
  const gains: Record<string, Record<string, number>> = {};
  for (const [output, sources] of Object.entries(factors)) {
    const of: Record<string, number> = (gains[output] = {});
    for (const source in sources) of[source] = factorToDb(sources[source]?.most ?? 0);
  }
  return gains;
}

/** The same as factors, with what else is to be taken into account. */
export function pathFactors(profile: Profile, state: State, view: PathView = {}): PathFactors {
  const desk = new DeskModel(profile, state, view);
  const factors: Record<string, Record<string, Path>> = {};
  const outputs = strips(profile, OUTPUT_FAMILIES);
  for (const output of outputs) factors[output] = {};
  const nothing: Path = { by: new Float64Array(view.frequencies ?? 1), most: 0 };
  for (const source of strips(profile, SOURCE_FAMILIES)) {
    const [reach, first] = [desk.factorsFrom(source), desk.preampFactor(source)];
    for (const output of outputs) {
      const by = first > 0 ? reach.get(output) : undefined;
      factors[output]![source] = by ? pathOf(by, first) : nothing;
    }
  }
  return factors;
}

function pathOf(reach: Float64Array, socket: number): Path {
  const by = new Float64Array(reach.length);
  let most = 0;
  for (let i = 0; i < by.length; i++) {
    const at = reach[i]! * socket;
    by[i] = at;
    if (at > most) most = at;
  }
  return { by, most };
}

/** For single sources: the most that passes from one to any output, in dB; −Infinity where nothing does. */
export function createMaxPathGain(profile: Profile, state: State): (source: string) => number {
  const desk = new DeskModel(profile, state, {});
  return (source) =>
    20 *
    Math.log10(desk.preampFactor(source) * Math.max(0, ...[...desk.factorsFrom(source).values()].map(([by]) => by!)));
}

/** Quickly, for single sources: whether one is open, up and routed straight to a first main that is open and up as well. */
export function createIsObviouslyAudible(profile: Profile, state: State): (source: string) => boolean {
  const main = profile.families.find(({ id }) => id === 'main')?.strips[0] ?? '';
  const up = (strip: StripState = {}) =>
    strip['mute/on'] !== true && Number(strip['fader/level'] ?? -Infinity) >= AUDIBLE_PATH_GAIN_DB / 2;
  const holdsDown = ({ 'mute/on': muted, 'fader/level': level }: StripState = {}) =>
    muted === true || Number(level ?? 0) < AUDIBLE_PATH_GAIN_DB / 2;
  const open = up(state[main]) && !controlStrips(profile).some((control) => holdsDown(state[control]));
  const routed = `routing/${main}`;
  return (source) => {
    const own = state[source];
    return open && up(own) && own?.[routed] === true && own['source/socket'] !== 'none';
  };
}

const strips = (profile: Profile, families: readonly string[]): string[] =>
  profile.families.filter((family) => families.includes(family.id)).flatMap((family) => family.strips);

class DeskModel {
  private readonly reached = new Map<string, FactorByOutput>();
  private readonly passed = new Map<string, FaderFactors>();
  private readonly processed = new Map<string, Float64Array | undefined>();
  private readonly toMatrices = new Map<string, readonly (readonly [matrix: string, by: number])[]>();
  private readonly of: (family: string) => readonly string[];
  private readonly sends = new Map<string, SendKeys>();
  /** Groups and mains, each with the key that says who is routed to it. */
  private readonly groups: readonly (readonly [strip: string, key: string])[];
  private readonly mains: readonly (readonly [strip: string, key: string])[];
  /** What a DCA or mute group does to its strips, with the key that says who belongs to it. */
  private readonly controls: readonly { readonly key: string; readonly by: number; readonly muted: boolean }[];

  constructor(
    private readonly profile: Profile,
    private readonly state: State,
    private readonly view: PathView,
  ) {
    const byId = new Map(profile.families.map((family) => [family.id, family.strips]));
    this.of = (family) => byId.get(family) ?? [];
    const routed = (family: string) => this.of(family).map((strip) => [strip, `routing/${strip}`] as const);
    this.groups = routed('group');
    this.mains = routed('main');
    this.controls = controlStrips(profile).map((control) => ({
      key: `routing/${control}`,
      by: this.level(control, 'fader/level'),
      muted: this.muted(control),
    }));
  }

  /** From the socket to the strip's own controls. */
  preampFactor(strip: string): number {
    if (this.at(strip, 'source/socket') === 'none') return 0;
    const gain = this.at(strip, 'preamp/gain') ?? this.at(strip, 'preamp/trim') ?? 0;
    return dbToFactor(Number(gain) + (this.at(strip, 'preamp/pad') === true ? PAD_DB : 0));
  }

  /** From a strip's own controls to each output. */
  factorsFrom(strip: string): FactorByOutput {
    const found = this.reached.get(strip);
    if (found) return found;
    const reach: FactorByOutput = new Map();
    this.reached.set(strip, reach);
    const passes = this.faderFactors(strip);
    if (passes.pre === 0) return reach;
    const own = this.processing(strip);
    const add = (output: string, by: number, shape?: Float64Array) => {
      if (by <= 0) return;
      const sum = reach.get(output) ?? new Float64Array(this.view.frequencies ?? 1);
      reach.set(output, sum);
      for (let i = 0; i < sum.length; i++) sum[i] = sum[i]! + by * (own?.[i] ?? 1) * (shape?.[i] ?? 1);
    };
    for (const [main, key] of this.mains)
      if (this.feeds(strip, main, key)) add(main, passes.post * this.faderFactors(main).post, this.processing(main));
    for (const mix of this.of('mix')) {
      const by = this.send(strip, mix, passes) * this.faderFactors(mix).post;
      if (by > 0) add(mix, by, this.processing(mix));
    }
    // What stands on a main or a mix so far goes on to the matrices it feeds.
    for (const [output, by] of [...reach])
      for (const [matrix, onwards] of this.onwardsFrom(output)) this.sum(reach, matrix, by, onwards);
    for (const matrix of this.of('matrix'))
      add(matrix, this.send(strip, matrix, passes) * this.faderFactors(matrix).post, this.processing(matrix));
    const through = (next: string, by: number) => {
      if (by > 0) for (const [output, onwards] of this.factorsFrom(next)) add(output, by, onwards);
    };
    for (const [group, key] of this.groups) if (this.at(strip, key) === true) through(group, passes.post);
    for (const fx of this.of('fx')) through(fx, this.send(strip, fx, passes));
    return reach;
  }

  /** Adds what goes on from an output to a matrix. */
  private sum(reach: FactorByOutput, matrix: string, from: Float64Array, by: number): void {
    const shape = this.processing(matrix);
    const sum = reach.get(matrix) ?? new Float64Array(from.length);
    reach.set(matrix, sum);
    for (let i = 0; i < sum.length; i++) sum[i] = sum[i]! + from[i]! * by * (shape?.[i] ?? 1);
  }

  private onwardsFrom(output: string): readonly (readonly [matrix: string, by: number])[] {
    const found = this.toMatrices.get(output);
    if (found) return found;
    const all = this.of('matrix').flatMap((matrix) => {
      const by = this.send(output, matrix, { pre: 1, post: 1 }) * this.faderFactors(matrix).post;
      return by > 0 ? [[matrix, by] as const] : [];
    });
    this.toMatrices.set(output, all);
    return all;
  }

  private processing(strip: string): Float64Array | undefined {
    if (!this.view.processing) return undefined;
    if (!this.processed.has(strip)) this.processed.set(strip, this.view.processing(strip));
    return this.processed.get(strip);
  }

  private faderFactors(strip: string): FaderFactors {
    const found = this.passed.get(strip);
    if (found) return found;
    const own = this.state[strip] ?? {};
    const controls = this.controls.filter(({ key }) => own[key] === true);
    const closed = this.muted(strip) || controls.some(({ muted }) => muted);
    const post = controls.reduce((level, { by }) => level * by, closed ? 0 : this.level(strip, 'fader/level'));
    const passes = { pre: closed ? 0 : 1, post };
    this.passed.set(strip, passes);
    return passes;
  }

  private muted(strip: string): boolean {
    if (this.view.opened || this.at(strip, 'mute/on') !== true) return false;
    return !this.lane(strip, 'automation/mute').some(([, muted]) => muted === 0);
  }

  private feeds(strip: string, main: string, key: string): boolean {
    const settings = stripFamily(this.profile, strip)?.settings ?? {};
    // A desk that cannot choose sends everything to its first main.
    if (!this.mains.some(([, routed]) => settings[routed])) return main === this.mains[0]?.[0];
    return this.at(strip, key) === true;
  }

  /** What goes along a send, of what stands before and behind the fader. */
  private send(strip: string, to: string, { pre, post }: FaderFactors): number {
    const keys = this.sendKeys(to);
    const level = this.level(strip, keys.level, 0, keys.lane);
    if (level === 0 || this.at(strip, keys.on) === false) return 0;
    return level * (this.at(strip, keys.tap) === 'pre' ? pre : post);
  }

  /** The keys of the sends to a strip: put together once, since every strip may have one. */
  private sendKeys(to: string): SendKeys {
    const known = this.sends.get(to) ?? {
      level: `sends/${to}/level`,
      on: `sends/${to}/on`,
      tap: `sends/${to}/tap`,
      lane: `automation/${to}`,
    };
    this.sends.set(to, known);
    return known;
  }

  /** A level as a factor, or the highest its lane reaches; `missing` where the strip has no such level. */
  private level(strip: string, key: string, missing = 1, lane = 'automation/fader'): number {
    const value = this.at(strip, key);
    if (value === undefined) return missing;
    const spec = stripFamily(this.profile, strip)?.settings[key];
    const highest = this.lane(strip, lane).reduce((most, [, at]) => Math.max(most, at), Number(value));
    return spec && isOff(spec, highest) ? 0 : dbToFactor(highest);
  }

  private lane(strip: string, key: string) {
    return this.view.lanes ? asLane(this.at(strip, key)) : [];
  }

  private at(strip: string, key: string) {
    return this.state[strip]?.[key];
  }
}

interface SendKeys {
  readonly level: string;
  readonly on: string;
  readonly tap: string;
  readonly lane: string;
}

/** What passes a strip before and behind its fader; both 0 where its mute, or that of a DCA or mute group it belongs to, is closed. */
interface FaderFactors {
  readonly pre: number;
  readonly post: number;
}
