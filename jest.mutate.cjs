const { projects } = require('./jest.config.cjs');

/** The core's tests alone, which is what operators of the core are flipped under. */
module.exports = { ...projects.find(({ displayName }) => displayName === 'core'), rootDir: __dirname };
