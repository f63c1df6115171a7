export { BEFORE, BLOCK, LEFT, PAIRS, RIGHT, amplify, pair, unpair } from './blocks';
export { COEFFICIENTS, MOST_FILTERS, ROW, forgetFilters, runFilters, runFiltersAlone } from './filters';
export { compress, gate, restCompressor, restGate } from './dynamics';
export { LONGEST_ECHO, emptyEcho, runEcho } from './echo';
export { LENGTHS, LONGEST_LINE, LOSSES, emptyRoom, runRoom } from './room';
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
} from './mixing';
export { PLACES, TAPS, energyOfLeft, energyOfRight, highest, highestBetween } from './measuring';
