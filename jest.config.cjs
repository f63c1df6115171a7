/** As Node runs it: only types are taken out and modules made to fit Jest, nothing is written for older engines. */
const transform = {
  '\\.[jt]sx?$': [
    'babel-jest',
    {
      configFile: false,
      presets: ['@babel/preset-typescript'],
      plugins: ['@babel/plugin-transform-modules-commonjs'],
    },
  ],
};

/** Packages that come as ECMAScript modules only. */
const MODULES =
  '@noble|ulid|canonicalize|dice-coefficient|n-gram|linear-sum-assignment|ml-[a-z]+(-[a-z]+)?|is-any-array';

const inNode = (displayName, workspaces) => ({
  displayName,
  testEnvironment: 'node',
  testMatch: [`<rootDir>/${workspaces}/test/**/*.test.ts`],
  setupFiles: ['<rootDir>/jest.seed.cjs'],
  transform,
  transformIgnorePatterns: [`/node_modules/(?!(${MODULES})/)`],
});

/** Core, wire and server run in Node, the server with its database; the app's own tests run as on the web. */
module.exports = {
  /** Real sockets and databases take their time on a busy machine; only what hangs runs into this. */
  testTimeout: 60_000,
  projects: [
    inNode('core', '{core,desk-link,stand-in,demo}'),
    inNode('server', 'server'),
    {
      displayName: 'app',
      preset: 'jest-expo/web',
      rootDir: '<rootDir>/app',
      setupFiles: ['whatwg-fetch'],
      moduleNameMapper: {
        '^react-native$': 'react-native-web',
        '^expo-router$': '<rootDir>/test/router.ts',
        '^lucide-react-native/icons/(.*)$': '<rootDir>/../node_modules/lucide-react-native/dist/cjs/icons/$1.js',
      },
      testMatch: ['<rootDir>/test/**/*.test.{ts,tsx}'],
      transformIgnorePatterns: [
        `/node_modules/(?!(react-native|@react-native|expo|@expo|lucide-react-native|@reduxjs|immer|react-redux|${MODULES}))`,
      ],
    },
  ],
};
