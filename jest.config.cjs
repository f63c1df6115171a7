const transform = { '\\.[jt]sx?$': ['babel-jest', { presets: [['babel-preset-expo', { web: {} }]] }] };

/** Core, wire and server run in Node; the app's own tests run as on the web. */
module.exports = {
  projects: [
    {
      displayName: 'node',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/{core,desk-link,stand-in,server,demo}/test/**/*.test.ts'],
      transform,
      transformIgnorePatterns: [
        '/node_modules/(?!(@noble|ulid|canonicalize|dice-coefficient|n-gram|linear-sum-assignment|ml-[a-z]+(-[a-z]+)?|is-any-array)/)',
      ],
    },
    {
      displayName: 'app',
      preset: 'jest-expo/web',
      rootDir: '<rootDir>/app',
      moduleNameMapper: { '^react-native$': 'react-native-web' },
      testMatch: ['<rootDir>/test/**/*.test.{ts,tsx}'],
      transformIgnorePatterns: [
        '/node_modules/(?!(react-native|@react-native|expo|@expo|lucide-react-native|@noble|ulid|canonicalize|@reduxjs|immer|react-redux))',
      ],
    },
  ],
};
