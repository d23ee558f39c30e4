import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Imports point one way: web, server and cli to contracts and threads, these to core, core to no one. */
const only = (files, ...forbidden) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: forbidden, message: 'Imports point one way: web, server, cli -> contracts, threads -> core.' },
        ],
      },
    ],
  },
});

export default tseslint.config(
  { ignores: ['**/dist/**', '**/dist-types/**', '**/node_modules/**', 'data/**', 'packages/server/migrations/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': ['error', { allow: ['error', 'warn'] }],
    },
  },
  {
    files: ['scripts/**', 'benchmarks/**', 'demo/src/main.ts', 'packages/server/src/main.ts', '**/*.mjs'],
    rules: { 'no-console': 'off', 'no-undef': 'off' },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off', 'no-undef': 'off' } },
  { files: ['**/test/**', 'e2e/**'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
  { files: ['packages/web/**'], ...reactHooks.configs.flat['recommended-latest'] },
  {
    files: ['packages/web/**'],
    rules: {
      // these two guard the compiler, which is not used here: effects follow outside things (canvas, worker, jobs)
      'react-hooks/set-state-in-effect': 'off',
      'react-hooks/refs': 'off',
      'react-hooks/purity': 'off',
      'react-hooks/immutability': 'off',
      'react-hooks/preserve-manual-memoization': 'off',
    },
  },
  only(['packages/core/src/**'], '@jasmorphe/*', 'react', 'express', 'drizzle-orm', 'node:*', 'fs', 'path'),
  only(
    ['packages/threads/src/**'],
    '@jasmorphe/contracts/*',
    '@jasmorphe/server/*',
    '@jasmorphe/web/*',
    '@jasmorphe/cli/*',
    'react',
    'express',
  ),
  only(
    ['packages/contracts/src/**'],
    '@jasmorphe/server/*',
    '@jasmorphe/web/*',
    '@jasmorphe/cli/*',
    '@jasmorphe/demo/*',
    'react',
    'express',
  ),
  only(['packages/server/src/**'], '@jasmorphe/web/*', '@jasmorphe/cli/*', '@jasmorphe/demo/*', 'react'),
  only(['packages/cli/src/**'], '@jasmorphe/server/*', '@jasmorphe/web/*', '@jasmorphe/demo/*', 'react', 'express'),
  only(
    ['packages/web/src/**'],
    '@jasmorphe/server/*',
    '@jasmorphe/cli/*',
    '@jasmorphe/demo/*',
    'express',
    'node:*',
    'manifold-3d',
  ),
);
