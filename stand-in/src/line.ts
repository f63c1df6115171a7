/** How badly the network between the desk and Old Echo behaves, in each direction. */
export interface LineFaults {
  /** Share of packets that never arrive, 0 … 1. */
  readonly loss: number;
  /** Longest delay of a packet, in ms; each takes a random part of it. */
  readonly delay: number;
  /** Share of packets that arrive after the ones sent behind them, 0 … 1. */
  readonly reorder: number;
  readonly seed: number;
}

/** Extra time a reordered packet spends on the way, in ms. */
const DETOUR = 30;

/** A line that loses, delays and reorders what is handed to it, the same way for the same seed. */
export function makeLine(faults: LineFaults): (deliver: () => void) => void {
  const random = mulberry32(faults.seed);
  return (deliver) => {
    if (random() < faults.loss) return;
    const wait = faults.delay * random() + (random() < faults.reorder ? DETOUR : 0);
    if (wait === 0) deliver();
    else setTimeout(deliver, wait);
  };
}

/** The mulberry32 generator (T. Ettinger, public domain): small, seedable, good enough to shake a network with. */
function mulberry32(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
