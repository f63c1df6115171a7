import { inBlocks, makeBlocks, sourceOf } from './blocks';
import { hasInserts, runEffect, runInserts, stripSteps } from './chain';
import { isMono, passing, summing } from './feeding';
import { kernels } from './kernels';
import type { Fed, MixNode } from './mix-plan';
import type { Channels, RenderStep } from './render';
import { factor } from './sound';

/** Makes room for samples; whatever is in it is written over. */
type Make = (count: number) => Float32Array;

const inMemory: Make = (count) => new Float32Array(count);

/**
 * Works out one step of a mix: one node, or sums of the same strips.
 * @param input the channels of what it depends on, by key: of other nodes, or of a recording by its hash
 * @returns one or two channels of `frames` samples for each of its nodes; what is shorter is filled with silence
 */
export function renderStep(
  step: RenderStep,
  input: (key: string) => Channels,
  frames: number,
  rate: number,
  make: Make = inMemory,
): readonly Channels[] {
  const sums = step.filter((node): node is Fed => node.kind === 'sum' || node.kind === 'mono sum');
  if (sums.length === step.length) return renderSums(sums, input, frames, rate, make);
  return step.map((node) =>
    node.kind === 'stem'
      ? renderStem(node, input(node.hash), frames, rate, make)
      : renderBus(node, input, frames, rate, make),
  );
}

type Stem = Exclude<MixNode, Fed>;

function renderStem(node: Stem, sound: Channels, frames: number, rate: number, make: Make): Channels {
  const recording = sound.slice(0, 2);
  const channels = recording.map(() => make(frames));
  makeBlocks(channels, sourceOf(recording), stripSteps(node.strip, rate, factor(node.gain), channels.length === 1));
  runInserts(node.strip, channels, rate);
  return channels;
}

function renderBus(node: Fed, input: (key: string) => Channels, frames: number, rate: number, make: Make): Channels {
  const { takeOneSum, takeSums } = kernels();
  const channels = [make(frames), make(frames)];
  const sum = summing([node], input, rate);
  const source = (from: number, count: number) => {
    sum(from, count);
    if (node.kind === 'effect') takeOneSum(count, 0);
    else takeSums(count, 0);
  };
  if (node.kind === 'effect') {
    runEffect(node.strip, source, channels, rate);
    return channels;
  }
  const steps = stripSteps(node.strip, rate, 1, false);
  const behind = node.behind ? [passing(node.behind, rate)] : [];
  if (!hasInserts(node.strip)) makeBlocks(channels, source, [...steps, ...behind]);
  else {
    makeBlocks(channels, source, steps);
    runInserts(node.strip, channels, rate);
    inBlocks(channels, ...behind);
  }
  return channels;
}

/** Works out several sums at once, so that what feeds more than one of them is read once. */
function renderSums(
  nodes: readonly Fed[],
  input: (key: string) => Channels,
  frames: number,
  rate: number,
  make: Make,
): readonly Channels[] {
  const { at, left, right, takeOneSum, takeSums } = kernels();
  const rest = nodes.slice(at.MOST_SUMS);
  if (rest.length > 0)
    return [nodes.slice(0, at.MOST_SUMS), rest].flatMap((some) => renderSums(some, input, frames, rate, make));
  const sounds = nodes.map((node) => (isMono(node) ? [make(frames)] : [make(frames), make(frames)]));
  const sum = summing(nodes, input, rate);
  for (let from = 0; from < frames; from += at.BLOCK) {
    const count = Math.min(at.BLOCK, frames - from);
    sum(from, count);
    sounds.forEach(([one, other], n) => {
      if (other) takeSums(count, n);
      else takeOneSum(count, n);
      one?.set(left.subarray(0, count), from);
      other?.set(right.subarray(0, count), from);
    });
  }
  return sounds;
}
