export default {
  testRunner: 'jest',
  jest: { configFile: 'jest.mutate.cjs', enableFindRelatedTests: true },
  coverageAnalysis: 'perTest',
  reporters: ['clear-text', 'json', 'progress-append-only'],
  concurrency: 2,
  tempDirName: '.data/mutate',
  jsonReporter: { fileName: '.data/mutation.json' },
};
