/** A recording at the rate of the mixes. */
export interface StemFile {
  readonly file: string;
  readonly channels: number;
  /** Whether it is still being written, further than it is read. */
  readonly grows?: boolean;
}
