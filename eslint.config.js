import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
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
  {
    ignores: [
      '**/dist/**',
      '**/test-built/**',
      '**/dist-types/**',
      '**/node_modules/**',
      'data/**',
      'packages/server/migrations/**',
    ],
  },
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
    // rules that ask the type checker: what is awaited, what is a promise, what is said of any
    files: ['packages/*/src/**/*.{ts,tsx}', 'demo/src/**/*.ts'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    // what runs is a promise whether it waits for anything or not
    rules: { '@typescript-eslint/require-await': 'off' },
  },
  {
    // what Redux Toolkit hands to its callbacks is free of `this`, whatever its types say
    files: ['packages/web/src/app/*.ts'],
    rules: { '@typescript-eslint/unbound-method': 'off' },
  },
  {
    files: ['scripts/**', 'benchmarks/**', 'demo/src/main.ts', 'packages/server/src/main.ts', '**/*.mjs'],
    rules: { 'no-console': 'off', 'no-undef': 'off' },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off', 'no-undef': 'off' } },
  { files: ['**/test/**', 'e2e/**'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
  { files: ['packages/web/src/**'], ...reactHooks.configs.flat['recommended-latest'] },
  { files: ['packages/web/src/**'], ...jsxA11y.flatConfigs.recommended },
  {
    // what is drawn on the bench is changed in place, frame by frame: three.js has no other way
    files: ['packages/web/src/bench/**'],
    rules: { 'react-hooks/immutability': 'off', 'react-hooks/refs': 'off' },
  },
  {
    // what runs in a browser as well
    files: ['packages/core/src/**', 'packages/web/src/**'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['process', 'Buffer', 'global', 'require', 'module', '__dirname', '__filename', 'setImmediate'],
      ],
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
