/**
 * Exact mid-band frequencies of third octaves in Hz, from 20 Hz to 20 kHz by name: 1000 · 10^(n/10), n = −17 … 13.
 * Source: IEC 61260-1, base-ten system.
 */
export const thirdOctaves = (): readonly number[] => CENTRE_FREQUENCIES;

const CENTRE_FREQUENCIES: readonly number[] = Array.from({ length: 31 }, (_, i) => 1000 * 10 ** ((i - 17) / 10));

/** From the middle of a third octave to its upper edge: 10^(1/20). Source: IEC 61260-1. */
export const BAND_EDGE_RATIO = 10 ** (1 / 20);
