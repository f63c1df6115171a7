/** Operators that are flipped in the core, to see whether a test notices; `npm run mutate -- PLACE` runs it. */
export default {
  testRunner: 'jest',
  plugins: ['@stryker-mutator/*', './scripts/mutant-sample.mjs'],
  checkers: ['sample'],
  jest: { configFile: 'jest.mutate.cjs', enableFindRelatedTests: true },
  coverageAnalysis: 'perTest',
  mutator: {
    // Types make sure of the rest: names of codes, and what may be missing.
    excludedMutations: ['StringLiteral', 'ObjectLiteral', 'ArrayDeclaration', 'OptionalChaining', 'Regex'],
  },
  ignoreStatic: true,
  reporters: ['clear-text', 'json'],
  clearTextReporter: { allowColor: false, logTests: false },
  // Half of them choose the sample, which costs nothing; the other half test.
  concurrency: 4,
  timeoutMS: 10_000,
  tempDirName: '.data/mutate',
  jsonReporter: { fileName: '.data/mutation.json' },
};
