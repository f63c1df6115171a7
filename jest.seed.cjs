const fc = require('fast-check');

/**
 * Properties try the same cases in every run of the tests, so that what fails for one fails for all; `npm run faults` tries others each
 * time, and says which seed failed. OLD_ECHO_PROPERTIES names a seed of one's own.
 */
const seed = process.env.OLD_ECHO_PROPERTIES ?? (process.env.OLD_ECHO_FAULT_TESTS === 'full' ? undefined : '20261129');
if (seed !== undefined) fc.configureGlobal({ seed: Number(seed) });
