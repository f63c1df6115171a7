import type { Channels, RenderStep, RunningStep } from '@old-echo/core/sound/render';

import type { RenderCache } from './render-cache';
import { markFailed, newLevel, type SamplesReady } from './samples-ready';
import type { WorkerPool } from './worker-pool';

/** Works out steps of mixes in threads, each once for whoever needs it, and keeps what they make. */
export class RenderScheduler {
  /** Steps that are at work, by the keys of their nodes. */
  private readonly begun = new Map<string, Promise<RunningStep>>();
  /** How far sounds are: of the very memory, since two steps may make the same sound at a time. */
  private readonly levels = new WeakMap<Channels, SamplesReady>();
  private readonly stems = new Map<string, Promise<Channels>>();

  constructor(
    private readonly pool: WorkerPool,
    private readonly memory: RenderCache,
    /** Called when a step has ended. */
    private readonly ended = () => {},
  ) {}

  /** Whether anything is at work. */
  get areBusy(): boolean {
    return this.begun.size + this.stems.size > 0;
  }

  /** The channels of a recording in a file, at a rate in Hz. @throws Fault where it cannot be read */
  stem(hash: string, file: string, rate: number): Promise<Channels> {
    const key = `stem ${hash} ${rate}`;
    const known = this.memory.get(key);
    if (known) return Promise.resolve(known);
    const begun = this.stems.get(key);
    if (begun) return begun;
    const made = this.pool
      .run({ do: 'stem', file, rate })
      .then(({ channels = [] }) => {
        this.memory.set(key, channels);
        return channels;
      })
      .finally(() => this.end(this.stems, key));
    this.stems.set(key, made);
    return made;
  }

  /** Begins with a step of a mix of so many samples once there is a thread for it, or finds it at work or done. */
  run(
    step: RenderStep,
    inputs: Readonly<Record<string, Channels>>,
    frames: number,
    rate: number,
  ): Promise<RunningStep> {
    const known = step.map(({ key }) => this.memory.get(key));
    if (known.every((sound) => sound !== undefined)) return Promise.resolve({ sounds: known, done: Promise.resolve() });
    const name = step.map(({ key }) => key).join();
    const begun = this.begun.get(name) ?? this.begin(name, step, inputs, frames, rate);
    this.begun.set(name, begun);
    return begun;
  }

  private begin(
    name: string,
    step: RenderStep,
    inputs: Readonly<Record<string, Channels>>,
    frames: number,
    rate: number,
  ): Promise<RunningStep> {
    const into = this.memory.allocateStep(step, inputs, frames);
    const levels = Object.fromEntries(
      Object.entries(inputs).flatMap(([key, channels]): [string, SamplesReady][] => {
        const level = this.levels.get(channels);
        return level ? [[key, level]] : [];
      }),
    );
    const level = newLevel();
    for (const channels of into) this.levels.set(channels, level);
    const { begun, done } = this.pool.start({ do: 'step', step, inputs, into, frames, rate, levels, level });
    const kept = done
      .then(() => step.forEach(({ key }, n) => this.memory.set(key, into[n] ?? [])))
      .finally(() => this.end(this.begun, name));
    kept.catch(() => markFailed(level));
    return begun.then(() => ({ sounds: into, done: kept }));
  }

  private end(of: Map<string, unknown>, name: string): void {
    of.delete(name);
    this.ended();
  }
}
