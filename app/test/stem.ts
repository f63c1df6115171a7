import type { StemView } from '@old-echo/core/contracts/sound';

/** A stem of half a minute that sounds. */
export const stem = (strip: string, more: Partial<StemView> = {}): StemView => ({
  strip,
  name: `${strip}.wav`,
  hash: 'a'.repeat(64),
  rate: 48_000,
  channels: 1,
  depth: '24',
  seconds: 32,
  start: 0,
  cameFrom: null,
  missing: false,
  silent: false,
  peak: -6,
  ...more,
});
