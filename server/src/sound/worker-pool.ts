import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';

import { Fault } from '@old-echo/core/fault/fault';

import { threadFile } from '../jobs/thread-file';
import type { LaneTask } from './run-lane';
import type { Task, TaskResult, WorkerReply } from './worker-task';

interface QueuedTask {
  readonly task: Task;
  readonly done: (done: TaskResult) => void;
  readonly failed: (error: unknown) => void;
}

/** What begins at once, or waits until there are threads for all of it. */
type Together = readonly QueuedTask[];

interface Slot {
  readonly worker: Worker;
  at: QueuedTask | undefined;
}

const WORKER = threadFile('sound/worker');

/** As many groups of threads work on whole mixes at a time, and as many on what somebody listens to; whole mixes wait meanwhile. */
const MOST_STREAMS = 2;
/** So long there was nothing to do, in ms. */
const IDLE_MS = 2000;

/**
 * Heavy work on sound in threads of its own, as much at a time as there are cores; what comes while all are busy waits its turn.
 * Mixes have threads besides, so that nothing else waits for them: each as many as there are cores.
 */
export class WorkerPool {
  private readonly slots: Slot[] = [];
  private readonly queue: Together[] = [];
  private closed = false;
  private number = 0;
  private resting: NodeJS.Timeout | undefined;

  constructor(
    private readonly file = WORKER,
    readonly cores = Math.max(1, availableParallelism()),
  ) {}

  /** @throws Fault what the task met, or `unavailable` once the pool is closed or a thread has died */
  run(task: Task): Promise<TaskResult> {
    return new Promise((done, failed) => this.begin([{ task, done, failed }]));
  }

  /**
   * Runs what can only be run at the same time; a failure is that of the first that failed.
   * @param stop has the others end where one has failed
   */
  async runTogether(tasks: readonly LaneTask[], stop: () => void): Promise<readonly TaskResult[]> {
    const queued: QueuedTask[] = [];
    const results = tasks.map((task) => new Promise<TaskResult>((done, failed) => queued.push({ task, done, failed })));
    const first = Promise.all(results);
    first.catch(stop);
    this.begin(queued);
    await Promise.allSettled(results);
    return first;
  }

  /** Has threads load what they will need, before anyone waits for it: one for each core, and the others later. */
  prestart(): void {
    this.openUpTo(this.cores);
    this.rest();
  }

  /** Opens as many threads as can ever be at work. */
  openAll(): void {
    this.openUpTo((1 + 2 * MOST_STREAMS) * this.cores);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.resting);
    this.refuseQueued();
    await Promise.all(this.slots.map(({ worker }) => worker.terminate()));
  }

  private begin(together: Together): void {
    this.queue.push(together);
    this.next();
  }

  private refuseQueued(): void {
    for (const { failed } of this.queue.splice(0).flat()) failed(evicted());
  }

  private next(): void {
    if (this.closed) return this.refuseQueued();
    this.rest();
    const busy = this.slots.flatMap(({ at }) => (at ? [at.task] : []));
    const count = (kind: ReturnType<typeof kindOf>) => busy.filter((task) => kindOf(task) === kind).length;
    const fits = ([first]: Together) => {
      const kind = first ? kindOf(first.task) : 'other';
      return count(kind) <= (kind === 'other' ? this.cores - 1 : (MOST_STREAMS - 1) * this.cores);
    };
    const place = this.queue.findIndex(fits);
    if (place < 0) return;
    for (const queued of this.queue.splice(place, 1).flat()) {
      const slot = this.slots.find(({ at }) => at === undefined) ?? this.open();
      slot.at = queued;
      slot.worker.ref();
      slot.worker.postMessage({ number: ++this.number, task: queued.task });
    }
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

const kindOf = (task: Task): 'whole mix' | 'listened to' | 'other' =>
  task.do !== 'lane' ? 'other' : task.isListenedTo ? 'listened to' : 'whole mix';

const evicted = (): Fault => new Fault('unavailable', 'The rendering was stopped.', 'Start it again.');
