import { CODE } from './kernel-code';

/** The inner loops of sound, as `core/kernels` has them compiled. Addresses are in bytes, frames at most {@link BLOCK}. */
interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer };
  readonly amplify: (frames: number, by: number) => void;
  readonly pair: (frames: number) => void;
  readonly unpair: (frames: number) => void;
  readonly forgetFilters: (from: number, count: number) => void;
  readonly runFilters: (frames: number, from: number, count: number) => void;
  readonly runFiltersAlone: (frames: number, from: number, count: number) => void;
  readonly restCompressor: () => void;
  readonly restGate: (closed: number) => void;
  readonly compress: (
    frames: number,
    bends: number,
    knee: number,
    slope: number,
    attack: number,
    release: number,
    wet: number,
    dry: number,
  ) => void;
  readonly gate: (
    frames: number,
    threshold: number,
    closed: number,
    attack: number,
    release: number,
    fall: number,
    hold: number,
  ) => void;
  readonly emptyEcho: (length: number) => void;
  readonly runEcho: (frames: number, length: number, feedback: number, mix: number, dull: number) => void;
  readonly emptyRoom: () => void;
  readonly gatherRoom: () => number;
  readonly runRoom: (frames: number, dull: number) => void;
  readonly clearSums: (count: number) => void;
  readonly addFeeds: (frames: number, from: number, count: number) => void;
  readonly addFixed: (frames: number, sum: number, ll: number, rl: number, lr: number, rr: number) => void;
  readonly place: (from: number, to: number, left: number, right: number, stepLeft: number, stepRight: number) => void;
  readonly addShaped: (frames: number, sum: number, own: number, across: number) => void;
  readonly takeOneSum: (frames: number, sum: number) => void;
  readonly takeSums: (frames: number, sum: number) => void;
  readonly energyOfLeft: (frames: number) => number;
  readonly energyOfRight: (frames: number) => number;
  readonly highest: (frames: number) => number;
  readonly highestBetween: (from: number, frames: number) => number;
}

type Constant =
  | 'BEFORE'
  | 'BLOCK'
  | 'LEFT'
  | 'RIGHT'
  | 'COEFFICIENTS'
  | 'COMPRESSOR'
  | 'COMPRESSOR_SIZE'
  | 'ECHO'
  | 'ECHO_LINE'
  | 'ECHO_SIZE'
  | 'GATE'
  | 'GATE_SIZE'
  | 'MEMORIES'
  | 'MOST_FILTERS'
  | 'ROW'
  | 'LENGTHS'
  | 'LINE_SAMPLES'
  | 'LINE_STRIDE'
  | 'LONGEST_ECHO'
  | 'LONGEST_LINE'
  | 'LOSSES'
  | 'ROOM_PLACE'
  | 'ROOM_SIZE'
  | 'MOST_SUMS'
  | 'MOST_FEEDS'
  | 'FEEDS'
  | 'GAINS'
  | 'PLACES'
  | 'TAPS';

export interface Kernels extends Exports {
  readonly at: Readonly<Record<Constant, number>>;
  /** The block that is worked on. */
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Bytes, singles, doubles and whole numbers at an address. */
  readonly bytes: (address: number, count: number) => Uint8Array;
  readonly singles: (address: number, count: number) => Float32Array;
  readonly doubles: (address: number, count: number) => Float64Array;
  readonly wholes: (address: number, count: number) => Int32Array;
}

/** The web and Node both have these; the core is typed without the libraries of either. */
declare const WebAssembly: {
  readonly Module: new (bytes: Uint8Array) => object;
  readonly Instance: new (module: object, imports: object) => { readonly exports: object };
};
declare const atob: (base64: string) => string;

let loaded: Kernels | undefined;

/** The inner loops, compiled at their first use. They work for one at a time: what each remembers meanwhile is put aside. */
export const kernels = (): Kernels => (loaded ??= instantiate());

function instantiate(): Kernels {
  const code = Uint8Array.from(atob(CODE), (letter) => letter.charCodeAt(0));
  const instance = new WebAssembly.Instance(new WebAssembly.Module(code), {});
  const exports = instance.exports as Exports & Record<Constant, { readonly value: number }>;
  const { buffer } = exports.memory;
  const at = new Proxy({} as Record<Constant, number>, { get: (_, name: Constant) => exports[name].value });
  return {
    ...exports,
    at,
    left: new Float32Array(buffer, at.LEFT, at.BLOCK),
    right: new Float32Array(buffer, at.RIGHT, at.BLOCK),
    bytes: (address, count) => new Uint8Array(buffer, address, count),
    singles: (address, count) => new Float32Array(buffer, address, count),
    doubles: (address, count) => new Float64Array(buffer, address, count),
    wholes: (address, count) => new Int32Array(buffer, address, count),
  };
}
