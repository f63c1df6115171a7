export type JobStatus = 'running' | 'done' | 'failed' | 'cancelled';

/** How far long work is, whatever it is about. */
export interface JobView {
  readonly status: JobStatus;
  /** Of `total`: scenes, steps or what else it counts. */
  readonly done: number;
  readonly total: number;
  /** Why it failed, or what else there is to say of its end, in sentences. */
  readonly why: string;
}
