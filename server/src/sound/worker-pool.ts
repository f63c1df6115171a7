import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';

import { Fault } from '@old-echo/core/fault/fault';

import { threadFile } from '../jobs/thread-file';
import { isIncomplete } from './samples-ready';
import type { Task, TaskResult, WorkerReply } from './worker-task';

interface QueuedTask {
  readonly task: Task;
  readonly begun: () => void;
  readonly done: (done: TaskResult) => void;
  readonly failed: (error: unknown) => void;
}

interface Slot {
  readonly worker: Worker;
  at: QueuedTask | undefined;
}

const WORKER = threadFile('sound/worker');

/**
 * Threads for steps that stream from unfinished steps, and mostly wait for them. Started only when idle: started during the
 * first mix, they would take more from it than they give.
 */
const STREAMING_THREADS = 6;
/** So long there was nothing to do, in ms. */
const IDLE_MS = 2000;

/**
 * Heavy work on sound in threads of its own, as much at a time as there are cores; what comes while all are busy waits its turn.
 * A step that follows others begins at once: it takes up what they leave of the processors.
 */
export class WorkerPool {
  private readonly slots: Slot[] = [];
  private readonly queue: QueuedTask[] = [];
  private closed = false;
  private number = 0;
  private resting: NodeJS.Timeout | undefined;

  constructor(
    private readonly file = WORKER,
    private readonly cores = Math.max(1, availableParallelism()),
  ) {}

  /** @throws Fault what the task met, or `unavailable` once the pool is closed or a thread has died */
  run(task: Task): Promise<TaskResult> {
    return this.start(task).done;
  }

  /** {@link run}, where it matters when a thread has begun with it. */
  start(task: Task): { readonly begun: Promise<void>; readonly done: Promise<TaskResult> } {
    let begin = () => {};
    const started = new Promise<void>((begun) => (begin = begun));
    const done = new Promise<TaskResult>((ended, failed) => {
      this.queue.push({ task, begun: begin, done: ended, failed });
      this.next();
    });
    // What fails before it begins never will; that is no news to those who only wait for its end.
    const begun = Promise.race([started, done.then(() => undefined)]);
    begun.catch(() => undefined);
    return { begun, done };
  }

  /** Has threads load what they will need, before anyone waits for it: one for each core, and later those that follow. */
  prestart(): void {
    this.openUpTo(this.cores);
    this.rest();
  }

  /** Opens all threads, also those that follow. */
  openAll(): void {
    this.openUpTo(this.cores + STREAMING_THREADS);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.resting);
    for (const { failed } of this.queue.splice(0)) failed(evicted());
    await Promise.all(this.slots.map(({ worker }) => worker.terminate()));
  }

  private next(): void {
    if (this.closed) {
      for (const { failed } of this.queue.splice(0)) failed(evicted());
      return;
    }
    this.rest();
    const busy = this.slots.filter(({ at }) => at && !isStreaming(at.task)).length;
    const waiting = this.queue.find(({ task }) => busy < this.cores || isStreaming(task));
    const free = waiting && this.free();
    if (!free) return;
    this.queue.splice(this.queue.indexOf(waiting), 1);
    free.at = waiting;
    free.worker.ref();
    free.worker.postMessage({ number: ++this.number, task: waiting.task });
    waiting.begun();
    this.next();
  }

  /** Opens what is missing once there was nothing to do for a while. */
  private rest(): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => (this.slots.every(({ at }) => !at) ? this.openAll() : undefined), IDLE_MS);
    this.resting.unref();
  }

  private openUpTo(count: number): void {
    while (!this.closed && this.slots.length < count) this.open();
  }

  private free(): Slot | undefined {
    const idle = this.slots.find(({ at }) => at === undefined);
    return idle ?? (this.slots.length < this.cores ? this.open() : undefined);
  }

  private open(): Slot {
    const slot: Slot = { worker: new Worker(this.file, { execArgv: [] }), at: undefined };
    const free = () => {
      const { at } = slot;
      slot.at = undefined;
      slot.worker.unref();
      return at;
    };
    slot.worker.on('message', ({ done, fault }: WorkerReply) => {
      const at = free();
      if (fault) at?.failed(new Fault(fault.code, fault.message, fault.advice));
      else at?.done(done ?? {});
      this.next();
    });
    const lost = (error?: unknown) => {
      this.slots.splice(this.slots.indexOf(slot), 1);
      free()?.failed(error ?? evicted());
      this.next();
    };
    slot.worker.once('error', lost);
    slot.worker.once('exit', () => this.slots.includes(slot) && lost());
    slot.worker.unref();
    this.slots.push(slot);
    return slot;
  }
}

/** Whether a task needs what others are still working out. */
const isStreaming = (task: Task): boolean =>
  task.do === 'step' && Object.values(task.levels).some((level) => isIncomplete(level, task.frames));

const evicted = (): Fault => new Fault('unavailable', 'The rendering was stopped.', 'Start it again.');
