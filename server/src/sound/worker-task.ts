import type { FaultCode } from '@old-echo/core/fault/fault';
import type { Analysis, Measured } from '@old-echo/core/sound/analyse-render';
import type { Depth } from '@old-echo/core/signal/wav';
import type { Channels, RenderStep } from '@old-echo/core/sound/render';

import type { Level } from './samples-ready';

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
      readonly levels: Readonly<Record<string, Level>>;
      /** How far it is itself. */
      readonly level: Level;
    }
  /** Writes a finished mix into a file and measures it. */
  | { readonly do: 'finish'; readonly channels: Channels; readonly rate: number; readonly file: string }
  | { readonly do: 'analyse'; readonly file: string }
  /** Measures the file that a bounce would be. */
  | { readonly do: 'measure'; readonly file: string; readonly depth: Depth; readonly dither: boolean }
  | { readonly do: 'bounce'; readonly file: string; readonly depth: Depth; readonly dither: boolean };

export interface Done {
  readonly channels?: Channels;
  readonly measured?: Measured;
  readonly analysis?: Analysis;
  readonly bytes?: Uint8Array;
}

export interface Answer {
  readonly number: number;
  readonly done?: Done;
  readonly fault?: { readonly code: FaultCode; readonly message: string; readonly advice: string };
}
