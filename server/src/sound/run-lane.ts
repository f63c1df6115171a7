import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import { samplesAt } from '@old-echo/core/sound/block-processor';
import type { Channels } from '@old-echo/core/sound/recording';
import { renderLane } from '@old-echo/core/sound/render-lane';
import { type MeterRoom, RenderMeter } from '@old-echo/core/sound/render-meter';
import type { StreamPlan } from '@old-echo/core/sound/stream-plan';

import { keepInStep, type LaneProgress } from './lane-progress';
import type { StemFile } from './stem-file';
import { SumFile } from './sum-file';
import { WavRecording } from './wav-recording';
import { WavWriter } from './wav-writer';

/** One thread's share of mixes. */
export interface LaneTask {
  readonly do: 'lane';
  readonly plan: StreamPlan;
  readonly lane: number;
  /** The windows that several threads use, and what was made before, by key. */
  readonly windows: Readonly<Record<string, Channels>>;
  /** By their hashes, at the rate of the mixes. */
  readonly recordings: Readonly<Record<string, StemFile>>;
  /** Where each mix is written to, and what is measured of it so far. */
  readonly mixes: readonly { readonly file: string; readonly part: string; readonly room: MeterRoom | undefined }[];
  /** Where strip sums are written to, by their steps. */
  readonly sums: ReadonlyMap<number, string>;
  readonly progress: LaneProgress;
  readonly isListenedTo: boolean;
}

/** Where what a step makes is taken to. */
interface Outlet {
  readonly window: Channels;
  /** The first sample that is taken. */
  readonly start: number;
  readonly add: (part: Channels) => void;
}

/** A mix on its way out. */
interface MixOutlet extends Outlet {
  readonly writer: WavWriter;
  readonly meter: RenderMeter;
}

/** Works out one thread's share of mixes; returns what was measured of those that end in it, by their place. */
export function runLane(task: LaneTask): Readonly<Record<number, RenderMeasurements>> {
  const { plan, lane, windows, recordings, progress } = task;
  const own = new Map(
    plan.windows.flatMap(({ key, channels, room, shared }) =>
      shared ? [] : [[key, Array.from({ length: channels }, () => new Float32Array(room))] as const],
    ),
  );
  const window = (key: string): Channels => windows[key] ?? own.get(key) ?? [];
  const open = new Map<string, WavRecording>();
  const recording = (hash: string): WavRecording => {
    const { file = '', grows = false } = recordings[hash] ?? {};
    const known = open.get(hash) ?? new WavRecording(file, { grows });
    open.set(hash, known);
    return known;
  };
  const mixes = new Map<number, MixOutlet>();
  const sums: SumFile[] = [];
  const outlets = new Map<number, Outlet>();
  try {
    plan.steps.forEach(({ lane: at, nodes, begin }, step) => {
      if (at !== lane) return;
      const made = window(nodes[0]?.key ?? '');
      const [mix, sum] = [plan.outputs.indexOf(step), task.sums.get(step)];
      const target = task.mixes[mix];
      if (target) {
        const outlet = mixOutlet(plan, target, made);
        mixes.set(mix, outlet);
        outlets.set(step, outlet);
      }
      if (sum === undefined) return;
      const file = new SumFile(sum, { rate: plan.rate, channels: made.length, frames: plan.frames - begin });
      sums.push(file);
      outlets.set(step, { window: made, start: begin, add: (part) => file.add(part) });
    });
    renderLane(plan, lane, {
      window,
      recording,
      ...keepInStep(plan, lane, progress),
      take: (step, from, to) => {
        const outlet = outlets.get(step);
        if (!outlet) return;
        const { window, start, add } = outlet;
        // Twice where the ring is at its end.
        for (let at = Math.max(start, from); at < to;) {
          const room = window[0]?.length ?? 1;
          const count = Math.min(to - at, room - (at % room));
          add(window.map((channel) => samplesAt(channel, at, count)));
          at += count;
        }
      },
    });
    for (const { writer } of mixes.values()) writer.end();
    return Object.fromEntries([...mixes].map(([mix, { meter }]) => [mix, meter.end()]));
  } catch (error) {
    for (const { writer } of mixes.values()) writer.discard();
    throw error;
  } finally {
    for (const one of [...open.values(), ...sums]) one.close();
  }
}

function mixOutlet(
  { frames, start, end, rate }: StreamPlan,
  { file, part, room }: LaneTask['mixes'][number],
  window: Channels,
): MixOutlet {
  const channels = window.length;
  const writer = new WavWriter({ file, part, rate, channels, frames: end - start, depth: 'float', dither: false });
  const meter = new RenderMeter({ channels, frames, rate, start, room });
  const add = (part: Channels) => {
    writer.add(part);
    meter.add(part);
  };
  return { window, start, add, writer, meter };
}
