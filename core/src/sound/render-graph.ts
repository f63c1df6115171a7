import { familyOf, sectionOf } from '../desk/address';
import { fingerprint, stripFingerprint } from '../desk/fingerprint';
import { controlStrips, isControl, type Profile, stripFamily } from '../desk/profile';
import { asLane, type Curve, isOff } from '../desk/setting';
import type { State, StripState } from '../desk/state';
import { PAD_DB } from '../signal/path-gain';
import { dbToFactor } from '../signal/sound';
import { PROCESSING_SECTIONS } from './channel-strip';
import type { PanLaw } from './pan-law';

/** A recording that feeds a strip. */
export interface StemInput {
  /** SHA-256 of its file. */
  readonly hash: string;
  /** Samples per channel at the rate of the mix. */
  readonly frames: number;
  /** The sample of the mix that it begins at; its first unless said. */
  readonly start?: number;
  /** Preamp gain and pad when recorded, in dB; only the difference from it is applied. */
  readonly gain: number;
}

interface MixRequest {
  /** The main, mix or matrix that is listened to. */
  readonly output: string;
  /** Only this strip's recording, through everything; null for all. */
  readonly solo: string | null;
  readonly stems: Readonly<Record<string, StemInput>>;
  readonly law: PanLaw;
  readonly rate: number;
  /** Samples per channel of the mix: longer than its recordings, so that what rings on can end. */
  readonly frames: number;
}

/** What becomes of a strip's sound on its way: its fader, its mute, its place. */
export interface FaderStage {
  /** A factor, or a lane in dB that stands in its place. */
  readonly level: number | Curve;
  /** What DCAs add, as a factor. */
  readonly by: number;
  /** At or under this many dB a lane passes nothing. */
  readonly off: number;
  /** A lane of mutes. */
  readonly mutes: Curve;
  /** −1 … 1, or a lane in percent. */
  readonly pan: number | Curve;
  /** 0 … 1. */
  readonly width: number;
}

/** What one strip brings into another. */
export interface Feed extends FaderStage {
  /** The key of the node it comes from. */
  readonly from: string;
}

/** A step that adds up what feeds it. */
export interface SummingNode {
  /**
   * An `output` is a bus that is listened to. Of what feeds a bus, a `sum` is some of its strips, and a `strip sum` all of them; the
   * same of what feeds an effect is mono.
   */
  readonly kind: 'bus' | 'effect' | 'output' | PlainSum;
  readonly key: string;
  readonly feeds: readonly Feed[];
  readonly strip: StripState;
  readonly law: PanLaw;
  /** What stands behind an output. */
  readonly behind?: FaderStage;
  /** Sums of the same recordings have the same number: they are made together. */
  readonly part?: number;
  /** Whose strips a strip sum is of. */
  readonly bus?: string;
}

const PLAIN_SUMS = ['sum', 'mono sum', 'strip sum', 'mono strip sum'] as const;
type PlainSum = (typeof PLAIN_SUMS)[number];

/** Whether a node only adds up what feeds it. */
export const isPlainSum = (node: RenderNode): node is SummingNode & { readonly kind: PlainSum } =>
  PLAIN_SUMS.some((kind) => kind === node.kind);

/** One step of a mix: everything it depends on is in it, so that equal keys mean equal sound. */
export type RenderNode =
  | {
      readonly kind: 'stem';
      readonly key: string;
      readonly hash: string;
      /** The sample of the mix that it begins at. */
      readonly start: number;
      readonly gain: number;
      readonly strip: StripState;
    }
  | SummingNode;

export interface RenderGraph {
  /** Each after all that it depends on; the last one is what is listened to. */
  readonly nodes: readonly RenderNode[];
  readonly frames: number;
  readonly rate: number;
  /** Routes dropped because they would form a feedback loop. */
  readonly circles: readonly (readonly [from: string, to: string])[];
}

/** What has to be worked out to hear an output of a desk, as a plan of steps. Only what reaches the output is in it. */
export function buildRenderGraph(profile: Profile, state: State, request: MixRequest): RenderGraph {
  return new GraphBuilder(profile, state, request).plan();
}

/** Strips with a recording that are summed in one step. */
const STRIPS_PER_PARTIAL_SUM = 8;
/** What has no processing of its own. */
export const NOTHING: StripState = {};
/** A level in dB that nothing stands at or under. */
const NO_OFF_LEVEL_DB = -1000;

/** What passes a node on as it is, both sides, or the one side of one that is mono. */
export const passedOn = (from: string, isMono: boolean): Feed => ({
  from,
  level: 1,
  by: 1,
  off: NO_OFF_LEVEL_DB,
  mutes: [],
  pan: isMono ? -1 : 0,
  width: 1,
});

class GraphBuilder {
  private readonly nodes: RenderNode[] = [];
  private readonly feedbackLoops: [string, string][] = [];
  private readonly known = new Map<string, string | null>();
  private readonly open = new Set<string>();
  private readonly passages = new Map<string, ReturnType<GraphBuilder['findPasses']>>();
  private readonly places = new Map<string, ReturnType<GraphBuilder['findPlace']>>();

  constructor(
    private readonly profile: Profile,
    private readonly state: State,
    private readonly request: MixRequest,
  ) {}

  plan(): RenderGraph {
    const { output, frames, rate } = this.request;
    this.open.add(output);
    const passes = this.passes(output);
    const feeds = passes === null ? [] : this.feedsOf(output, 'output');
    if (passes === null || feeds.length === 0) this.fed('output', [], NOTHING);
    else
      this.fed('output', feeds, processing(this.state[output] ?? {}), {
        behind: { ...passes, ...this.place(output) },
      });
    return { nodes: this.nodes, frames, rate, circles: this.feedbackLoops };
  }

  /** The key of a strip's sound before its fader; null where there is none. */
  private node(strip: string): string | null {
    const known = this.known.get(strip);
    if (known !== undefined) return known;
    this.open.add(strip);
    const made = familyOf(strip) === 'in' ? this.stem(strip) : this.bus(strip);
    this.open.delete(strip);
    this.known.set(strip, made);
    return made;
  }

  private stem(strip: string): string | null {
    const { stems, frames, rate } = this.request;
    const stem = stems[strip];
    if (!stem || !this.hasAudio(strip)) return null;
    const { hash, start = 0 } = stem;
    const own = this.state[strip] ?? {};
    const gain = preampOf(own) - stem.gain;
    const chain = processing(own);
    const key = fingerprint(['stem', hash, gain, stripFingerprint(chain), frames, rate, ...(start > 0 ? [start] : [])]);
    this.nodes.push({ kind: 'stem', key, hash, start, gain, strip: chain });
    return key;
  }

  /** Whether a strip has a recording that is heard. */
  private hasAudio(strip: string): boolean {
    const { stems, solo } = this.request;
    return stems[strip] !== undefined && (solo ?? strip) === strip && this.at(strip, 'source/socket') !== 'none';
  }

  private bus(strip: string): string | null {
    const kind = familyOf(strip) === 'fx' ? 'effect' : 'bus';
    const feeds = this.feedsOf(strip, kind);
    return feeds.length === 0 ? null : this.fed(kind, feeds, processing(this.state[strip] ?? {}));
  }

  /** All that feeds a bus. Many strips come as a few sums of some of them: what did not change is not summed again. */
  private feedsOf(strip: string, kind: 'bus' | 'effect' | 'output'): readonly Feed[] {
    const parts = new Map<number, Feed[]>();
    const others: Feed[] = [];
    this.profile.strips.forEach((source, place) => {
      const feed = this.feed(source, strip);
      const part = Math.floor(place / STRIPS_PER_PARTIAL_SUM);
      if (!feed) return;
      if (familyOf(source) !== 'in') others.push(feed);
      else parts.set(part, [...(parts.get(part) ?? []), feed]);
    });
    const strips = [...parts.values()].flat();
    if (strips.length <= STRIPS_PER_PARTIAL_SUM) return [...strips, ...others];
    const isMono = kind === 'effect';
    const sums = [...parts].map(([part, feeds]) => {
      const sum = this.fed(isMono ? 'mono sum' : 'sum', feeds, NOTHING, { part });
      // As much louder as it is quieter in one channel.
      return { ...passedOn(sum, isMono), by: isMono ? Math.SQRT2 : 1 };
    });
    const stripSum = this.fed(isMono ? 'mono strip sum' : 'strip sum', sums, NOTHING, { bus: strip });
    return [passedOn(stripSum, isMono), ...others];
  }

  private fed(
    kind: SummingNode['kind'],
    feeds: readonly Feed[],
    strip: StripState,
    also: Pick<SummingNode, 'behind' | 'part' | 'bus'> = {},
  ): string {
    const { law, frames, rate } = this.request;
    const { behind } = also;
    const ways = feeds.map(feedKeyParts);
    const key = fingerprint([
      kind,
      ways,
      stripFingerprint(strip),
      law,
      frames,
      rate,
      behind ? cacheKeyParts(behind) : null,
    ]);
    this.nodes.push({ kind, key, feeds, strip, law, ...also });
    return key;
  }

  /** What `source` brings into `target`, or undefined for nothing. */
  private feed(source: string, target: string): Feed | undefined {
    if (familyOf(source) === 'in' && !this.hasAudio(source)) return undefined;
    const way = this.pathTo(source, target);
    if (!way) return undefined;
    if (this.open.has(source)) {
      this.feedbackLoops.push([source, target]);
      return undefined;
    }
    const from = this.node(source);
    return from === null ? undefined : { from, ...way };
  }

  /** How a strip reaches another: by its routing behind the fader, or by a send. */
  private pathTo(source: string, target: string): FaderStage | undefined {
    const passes = this.passes(source);
    if (!passes) return undefined;
    const place = this.place(source);
    if (this.isRouted(source, target)) return { ...passes, ...place };
    const key = `sends/${target}`;
    const spec = stripFamily(this.profile, source)?.settings[`${key}/level`];
    if (!spec || this.at(source, `${key}/on`) === false) return undefined;
    const lane = asLane(this.at(source, `automation/${target}`));
    const level = Number(this.at(source, `${key}/level`));
    if (lane.length === 0 && isOff(spec, level)) return undefined;
    const off = spec.kind === 'level' ? spec.min : NO_OFF_LEVEL_DB;
    const own = this.at(source, `${key}/pan`);
    const pan = own === undefined ? place.pan : Number(own) / 100;
    const sent = { ...place, pan, off, level: lane.length > 0 ? lane : dbToFactor(level) };
    if (this.at(source, `${key}/tap`) === 'pre') return { ...sent, by: 1 };
    // Post-fader with both automated: the fader lane is followed, the send stays at its static level.
    if (typeof passes.level === 'number') return { ...sent, by: passes.by * passes.level };
    return { ...passes, ...place, pan, by: passes.by * dbToFactor(level) };
  }

  private isRouted(source: string, target: string): boolean {
    const family = familyOf(target);
    if (family !== 'main' && family !== 'group') return false;
    if (familyOf(source) === 'main' || familyOf(source) === 'mix' || familyOf(source) === 'matrix') return false;
    const settings = stripFamily(this.profile, source)?.settings ?? {};
    if (settings[`routing/${target}`]) return this.at(source, `routing/${target}`) === true;
    const mains = this.profile.families.find(({ id }) => id === 'main')?.strips ?? [];
    const chooses = mains.some((main) => settings[`routing/${main}`]);
    return (
      family === 'main' &&
      !chooses &&
      target === mains[0] &&
      settings['fader/level'] !== undefined &&
      !isControl(source)
    );
  }

  /** What passes a strip's fader, mute, DCAs and mute groups; null where nothing ever does. */
  private passes(strip: string): Pick<FaderStage, 'level' | 'by' | 'off'> | null {
    const known = this.passages.get(strip);
    const found = known === undefined ? this.findPasses(strip) : known;
    this.passages.set(strip, found);
    return found;
  }

  private findPasses(strip: string): Pick<FaderStage, 'level' | 'by' | 'off'> | null {
    const own = this.state[strip] ?? {};
    const spec = stripFamily(this.profile, strip)?.settings['fader/level'];
    if (!spec) return null;
    if (own['mute/on'] === true && asLane(own['automation/mute']).length === 0) return null;
    let by = 1;
    for (const control of controlStrips(this.profile)) {
      if (own[`routing/${control}`] !== true) continue;
      const level = this.at(control, 'fader/level') ?? 0;
      if (this.at(control, 'mute/on') === true || isOff(spec, level)) return null;
      by *= dbToFactor(Number(level));
    }
    const lane = asLane(own['automation/fader']);
    const off = spec.kind === 'level' ? spec.min : NO_OFF_LEVEL_DB;
    if (lane.length > 0) return { level: lane, by, off };
    return isOff(spec, own['fader/level']) ? null : { level: dbToFactor(Number(own['fader/level'])), by, off };
  }

  private place(strip: string): Pick<FaderStage, 'mutes' | 'pan' | 'width'> {
    const found = this.places.get(strip) ?? this.findPlace(strip);
    this.places.set(strip, found);
    return found;
  }

  private findPlace(strip: string): Pick<FaderStage, 'mutes' | 'pan' | 'width'> {
    const own = this.state[strip] ?? {};
    const lane = asLane(own['automation/pan']);
    return {
      mutes: asLane(own['automation/mute']),
      pan: lane.length > 0 ? lane : Number(own['pan/position'] ?? 0) / 100,
      width: Number(own['pan/width'] ?? 100) / 100,
    };
  }

  private at(strip: string, key: string) {
    return this.state[strip]?.[key];
  }
}

/** A strip's gain or trim with its pad, in dB. */
export const preampOf = (strip: StripState): number =>
  Number(strip['preamp/gain'] ?? strip['preamp/trim'] ?? 0) + (strip['preamp/pad'] === true ? PAD_DB : 0);

/** What a passage depends on, in a fixed order. */
const cacheKeyParts = ({ level, by, off, mutes, pan, width }: FaderStage) => [level, by, off, mutes, pan, width];

/** What a feed is, in a fixed order. */
export const feedKeyParts = (feed: Feed) => [feed.from, ...cacheKeyParts(feed)];

const processingCache = new WeakMap<StripState, StripState>();

/** The settings that work on a strip's sound before its fader, but its gain. Remembered per strip, which is never changed in place. */
function processing(strip: StripState): StripState {
  const known = processingCache.get(strip);
  if (known) return known;
  const found = Object.fromEntries(Object.entries(strip).filter(([key]) => isProcessing(key)));
  processingCache.set(strip, found);
  return found;
}

/** Whether a setting works on a strip's sound before its fader, by its key: there are few of them, on many strips. */
const processes = new Map<string, boolean>();

function isProcessing(key: string): boolean {
  const known = processes.get(key);
  if (known !== undefined) return known;
  const found =
    (PROCESSING_SECTIONS.includes(sectionOf(key)) && !/^preamp\/(gain|trim|pad|phantom)$/.test(key)) ||
    key.startsWith('automation/inserts');
  processes.set(key, found);
  return found;
}
