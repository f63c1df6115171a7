import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';

import { Fault, type FaultCode } from '@old-echo/core/fault/fault';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { analyseRender, measure } from '@old-echo/core/sound/analyse-render';
import type { Channels } from '@old-echo/core/sound/render';
import { renderStep } from '@old-echo/core/sound/render-node';

import { createStreamSync, markComplete } from './samples-ready';
import { allocateShared } from './shared-samples';
import type { Task, TaskResult, WorkerReply } from './worker-task';

/** Samples that every thread can read without copying them. */
const shared = (channels: Channels): Channels =>
  channels.map((channel) => {
    const copy = allocateShared(channel.length);
    copy.set(channel);
    return copy;
  });

/** A recording at the rate of the mix; resampled by libsamplerate where its own is another. */
async function readStem(file: string, rate: number): Promise<Channels> {
  const sound = readWav(readFileSync(file), allocateShared);
  if (sound.rate === rate) return sound.channels;
  return shared(await Promise.all(sound.channels.map((channel) => resample(channel, sound.rate, rate))));
}

async function resample(channel: Float32Array, from: number, to: number): Promise<Float32Array> {
  // It takes as long to load as all else of a thread, and most recordings are at the rate of the mix.
  const { default: libsamplerate } = await import('@alexanderolsen/libsamplerate-js');
  const converter = await libsamplerate.create(1, from, to, {
    converterType: libsamplerate.ConverterType.SRC_SINC_BEST_QUALITY,
  });
  // Silence behind it brings out what the converter still holds.
  const padded = new Float32Array(channel.length + from);
  padded.set(channel);
  const converted = converter.full(padded);
  converter.destroy();
  return converted.slice(0, Math.ceil((channel.length * to) / from));
}

const bounce = ({ file, depth, dither }: Pick<Task & { do: 'bounce' }, 'file' | 'depth' | 'dither'>): Uint8Array =>
  writeWav(readWav(readFileSync(file)), depth, dither);

async function work(task: Task): Promise<TaskResult> {
  switch (task.do) {
    case 'stem':
      return { channels: await readStem(task.file, task.rate) };
    case 'step': {
      const { step, inputs, into, frames, rate, levels, level } = task;
      renderStep(step, (key) => inputs[key] ?? [], into, rate, createStreamSync(levels, level));
      markComplete(level, frames);
      return {};
    }
    case 'finish': {
      const sound = { rate: task.rate, channels: task.channels };
      // Whole or not at all: it gets its name once it is written.
      try {
        writeFileSync(task.part, writeWav(sound, 'float', false));
        renameSync(task.part, task.file);
      } finally {
        rmSync(task.part, { force: true });
      }
      return { measured: measure(sound) };
    }
    case 'analyse':
      return { analysis: analyseRender(readWav(readFileSync(task.file))) };
    case 'bounce':
      return { bytes: bounce(task) };
    case 'measure':
      return { measured: measure(readWav(bounce(task))) };
  }
}

parentPort?.on('message', ({ number, task }: { number: number; task: Task }) => {
  const answer = (said: Omit<WorkerReply, 'number'>) => parentPort?.postMessage({ number, ...said });
  work(task).then(
    (done) => answer({ done }),
    (error: unknown) =>
      answer({
        fault:
          error instanceof Fault
            ? { code: error.code, message: error.message, advice: error.advice }
            : { code: 'unavailable' satisfies FaultCode, message: String(error), advice: 'Try again.' },
      }),
  );
});
