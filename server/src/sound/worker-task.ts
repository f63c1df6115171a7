import type { FaultCode } from '@old-echo/core/fault/fault';
import type { BitDepth } from '@old-echo/core/signal/wav';
import type { RenderAnalysis, RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import type { Channels, RenderStep } from '@old-echo/core/sound/render';

import type { SamplesReady } from './samples-ready';

/** What a worker can be asked for. */
export type Task =
  | { readonly do: 'stem'; readonly file: string; readonly rate: number }
  | {
      readonly do: 'step';
      readonly step: RenderStep;
      readonly inputs: Readonly<Record<string, Channels>>;
      /** Where what comes of it is written to. */
      readonly into: readonly Channels[];
      readonly frames: number;
      readonly rate: number;
      /** How far what it depends on is, where that is still being worked out. */
      readonly levels: Readonly<Record<string, SamplesReady>>;
      /** How far it is itself. */
      readonly level: SamplesReady;
    }
  /** Writes a finished mix into a file and measures it; `part` is where the file is until it is whole. */
  | {
      readonly do: 'finish';
      readonly channels: Channels;
      readonly rate: number;
      readonly file: string;
      readonly part: string;
    }
  | { readonly do: 'analyse'; readonly file: string }
  /** Measures the file that a bounce would be. */
  | { readonly do: 'measure'; readonly file: string; readonly depth: BitDepth; readonly dither: boolean }
  | { readonly do: 'bounce'; readonly file: string; readonly depth: BitDepth; readonly dither: boolean };

export interface TaskResult {
  readonly channels?: Channels;
  readonly measured?: RenderMeasurements;
  readonly analysis?: RenderAnalysis;
  readonly bytes?: Uint8Array;
}

export interface WorkerReply {
  readonly number: number;
  readonly done?: TaskResult;
  readonly fault?: { readonly code: FaultCode; readonly message: string; readonly advice: string };
}
