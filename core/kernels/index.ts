export { BEFORE, BLOCK, LEFT, PAIRS, RIGHT, amplify, pair, unpair } from './block-buffers';
export { COEFFICIENTS, MOST_FILTERS, ROW, forgetFilters, runFilters, runFiltersAlone } from './filters';
export { compress, gate, restCompressor, restGate } from './dynamics';
export { LONGEST_ECHO, emptyEcho, runEcho } from './feedback-delay';
export { LENGTHS, LONGEST_LINE, LOSSES, emptyRoom, runRoom } from './reverb';
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
