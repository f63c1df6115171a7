import eslint from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/',
      'core/kernels/',
      '**/*.program.mjs',
      '.data/',
      '**/*.cjs',
      'app/*.config.js',
      'app/.expo/',
      '**/*.d.ts',
    ],
  },
  eslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: { project: ['./tsconfig.json', './app/tsconfig.json'], tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      // Knex infers rows as any: what a query returns is said once, beside it.
      '@typescript-eslint/no-unnecessary-type-assertion': 'off',
      // RTK Query's word for a question without an argument.
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
  {
    files: ['app/**/*.{ts,tsx}'],
    extends: [hooks.configs.flat.recommended],
  },
  {
    files: ['**/*.test.ts', '**/test/**', 'e2e/**', 'desk-link/src/conformance.ts'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off', '@typescript-eslint/unbound-method': 'off' },
  },
  {
    files: ['scripts/**/*.mjs', '*.mjs', 'bench/**/*.mjs'],
    languageOptions: {
      globals: {
        AbortController: 'readonly',
        process: 'readonly',
        console: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
      },
    },
  },
);
