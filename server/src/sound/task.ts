import type { FaultCode } from '@old-echo/core/contracts/fault';
import type { Measured } from '@old-echo/core/contracts/sound';
import type { Depth } from '@old-echo/core/formats/wav';
import type { MixNode } from '@old-echo/core/sound/mix-plan';
import type { Channels } from '@old-echo/core/sound/render';

/** What a worker can be asked for. */
export type Task =
  | { readonly do: 'stem'; readonly file: string; readonly rate: number }
  | {
      readonly do: 'node';
      readonly node: MixNode;
      readonly inputs: Readonly<Record<string, Channels>>;
      readonly frames: number;
      readonly rate: number;
    }
  /** Writes a finished mix into a file and measures it. */
  | { readonly do: 'finish'; readonly channels: Channels; readonly rate: number; readonly file: string }
  | { readonly do: 'bounce'; readonly file: string; readonly depth: Depth; readonly dither: boolean };

export interface Done {
  readonly channels?: Channels;
  readonly measured?: Measured;
  readonly bytes?: Uint8Array;
}

export interface Answer {
  readonly number: number;
  readonly done?: Done;
  readonly fault?: { readonly code: FaultCode; readonly message: string; readonly advice: string };
}
