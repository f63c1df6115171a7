import eslint from '@eslint/js';
import jest from 'eslint-plugin-jest';
import playwright from 'eslint-plugin-playwright';
import hooks from 'eslint-plugin-react-hooks';
import importSort from 'eslint-plugin-simple-import-sort';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/',
      'core/kernels/',
      '**/dist/',
      '.data/',
      '**/*.cjs',
      'app/*.config.js',
      'app/.expo/',
      '**/*.d.ts',
    ],
  },
  eslint.configs.recommended,
  {
    plugins: { sort: importSort },
    rules: {
      // What comes with Node, packages, our own packages, what is above, what is beside.
      'sort/imports': ['error', { groups: [['^node:'], ['^@?\\w'], ['^@old-echo/'], ['^\\.']] }],
      'sort/exports': 'error',
      'no-duplicate-imports': ['error', { allowSeparateTypeImports: true }],
    },
  },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: { project: ['./tsconfig.json', './app/tsconfig.json'], tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      // RTK Query's word for a question without an argument.
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      // There are none, and a rule about what is put into them takes a fifth of the time of all rules.
      'no-restricted-syntax': ['error', { selector: 'TSEnumDeclaration', message: 'A union of texts says as much.' }],
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
    },
  },
  {
    files: ['{core,server,desk-link,stand-in,app}/src/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-properties': [
        'error',
        {
          object: 'Date',
          property: 'now',
          message: 'That clock can be set: performance.now() for lengths of time, new Date() for what is written down.',
        },
      ],
    },
  },
  {
    files: ['app/**/*.{ts,tsx}'],
    extends: [hooks.configs.flat.recommended],
  },
  {
    files: ['**/*.test.ts', '**/test/**', 'testing/**', 'e2e/**', 'desk-link/src/conformance.ts'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off', '@typescript-eslint/unbound-method': 'off' },
  },
  {
    files: ['{core,server,stand-in,desk-link,demo,app}/test/**/*.{ts,tsx}'],
    extends: [jest.configs['flat/recommended']],
    rules: {
      // Properties say what holds where; where it does not, they have nothing to say.
      'jest/no-conditional-expect': 'off',
      'jest/expect-expect': ['error', { assertFunctionNames: ['expect', 'kept', 'until', 'judged'] }],
    },
  },
  {
    files: ['e2e/**/*.ts'],
    extends: [playwright.configs['flat/recommended']],
    rules: {
      // Samples are looked at in loops, and a desk may already stand as it is to be.
      'playwright/no-conditional-in-test': 'off',
      'playwright/no-conditional-expect': 'off',
      'playwright/no-skipped-test': ['error', { allowConditional: true }],
    },
  },
  {
    // Samples and settings are read in loops over their own lengths: an index is always within them, and a look whether it is
    // would be made millions of times.
    files: ['core/src/{sound,signal}/**/*.ts', 'core/src/desk/diff-states.ts', 'core/src/recall/path-rises.ts'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  {
    files: ['scripts/**/*.mjs', '*.mjs', 'bench/**/*.mjs', 'docs/examples/*.mjs'],
    languageOptions: {
      globals: {
        AbortController: 'readonly',
        process: 'readonly',
        console: 'readonly',
        setInterval: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
      },
    },
  },
);
