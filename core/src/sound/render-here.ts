import type { Channels, Recording } from './recording';
import type { RenderGraph } from './render-graph';
import { renderLane } from './render-lane';
import { planStream } from './stream-plan';

/** Works out a mix, or part of it, in this thread and in memory. For short ones, and to check others by. */
export function renderHere(
  graph: RenderGraph,
  recording: (hash: string) => Recording,
  options: { readonly start?: number; readonly end?: number; readonly stretch?: number } = {},
): Channels {
  const plan = planStream([graph], { ...options, channelsOf: (hash) => recording(hash).channels });
  const windows = new Map(plan.windows.map(({ key, channels, room }) => [key, roomFor(channels, room)]));
  const window = (key: string) => windows.get(key) ?? [];
  const mix = roomFor(2, plan.end - plan.start);
  const made = window(graph.nodes.at(-1)?.key ?? '');
  renderLane(plan, 0, {
    window,
    recording,
    before: () => undefined,
    made: () => undefined,
    take: (step, from, to) => {
      if (step !== plan.outputs[0]) return;
      mix.forEach((channel, c) => {
        const ring = made[c]!;
        for (let at = Math.max(plan.start, from); at < to; at++) channel[at - plan.start] = ring[at % ring.length]!;
      });
    },
  });
  return mix;
}

const roomFor = (channels: number, frames: number): Float32Array[] =>
  Array.from({ length: channels }, () => new Float32Array(frames));
