export { BEFORE, BLOCK, LEFT, PAIRS, RIGHT, amplify, pair, unpair } from './block-buffers';
export { COEFFICIENTS, MEMORIES, MOST_FILTERS, ROW, forgetFilters, runFilters, runFiltersAlone } from './filters';
export { COMPRESSOR, COMPRESSOR_SIZE, GATE, GATE_SIZE, compress, gate, restCompressor, restGate } from './dynamics';
export { ECHO, ECHO_LINE, ECHO_SIZE, LONGEST_ECHO, emptyEcho, runEcho } from './feedback-delay';
export {
  LENGTHS,
  LINE_SAMPLES,
  LINE_STRIDE,
  LONGEST_LINE,
  LOSSES,
  ROOM_PLACE,
  ROOM_SIZE,
  emptyRoom,
  gatherRoom,
  runRoom,
} from './reverb';
export {
  FEEDS,
  GAINS,
  MOST_FEEDS,
  MOST_SUMS,
  addFeeds,
  addFixed,
  addShaped,
  clearSums,
  place,
  takeOneSum,
  takeSums,
} from './bus-mixing';
export { PLACES, TAPS, energyOfLeft, energyOfRight, highest, highestBetween } from './metering';
