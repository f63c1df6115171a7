export { BEFORE, BLOCK, LEFT, PAIRS, RIGHT, amplify, pair, unpair } from './blocks';
export { COEFFICIENTS, MOST_FILTERS, forgetFilters, runFilters } from './filters';
export {
  CURVE,
  DEEPEST,
  FACTORS,
  FINE,
  HIGHEST,
  LOWEST,
  PER_DB,
  compress,
  gate,
  restCompressor,
  restGate,
} from './dynamics';
export { LONGEST_ECHO, emptyEcho, runEcho } from './echo';
export { LENGTHS, LONGEST_LINE, LOSSES, emptyRoom, runRoom } from './room';
export { SHAPES, addFixed, addShaped, clearSums, takeOneSum, takeSums } from './mixing';
export { PLACES, TAPS, energyOfLeft, energyOfRight, highest, highestBetween } from './measuring';
