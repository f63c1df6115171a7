import type { FaultCode } from '@old-echo/core/fault/fault';
import type { RenderAnalysis, RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import type { Loudness } from '@old-echo/core/sound/loudness';

import type { Bounce, BouncePiece } from './bounce-file';
import type { PackedSound } from './pack-flac';
import type { LaneTask } from './run-lane';
import type { StemSurvey } from './survey-stem';

/** What a worker can be asked for; `part` is where a file is until it is whole. */
export type Task =
  | LaneTask
  /** Writes a recording at another rate. */
  | {
      readonly do: 'resample';
      readonly from: string;
      readonly rate: number;
      readonly file: string;
      readonly part: string;
    }
  | { readonly do: 'piece'; readonly file: string; readonly from: number; readonly grows: boolean }
  /** Writes a bounce as a FLAC file. */
  | { readonly do: 'pack flac'; readonly bounce: Bounce; readonly to: string }
  /** Writes what is in a FLAC file as a WAV file. */
  | { readonly do: 'unpack flac'; readonly from: string; readonly to: string }
  /** Looks through a recording before it is kept. */
  | { readonly do: 'survey'; readonly file: string }
  | { readonly do: 'analyse'; readonly file: string }
  /** Measures the file that a bounce would be. */
  | { readonly do: 'measure'; readonly bounce: Bounce }
  | { readonly do: 'bounce'; readonly bounce: Bounce; readonly from: number };

export interface TaskResult {
  /** What was measured of mixes, by their places. */
  readonly lane?: Readonly<Record<number, RenderMeasurements>>;
  readonly loudness?: Loudness;
  readonly bounced?: BouncePiece;
  readonly packed?: PackedSound;
  readonly survey?: StemSurvey;
  readonly analysis?: RenderAnalysis;
}

export interface WorkerReply {
  readonly number: number;
  readonly done?: TaskResult;
  readonly fault?: { readonly code: FaultCode; readonly message: string; readonly advice: string };
}
