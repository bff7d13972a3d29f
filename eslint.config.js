import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/** Arrows between the rooms point one way: web -> contract -> core, server -> contract, core. */
const room = (files, forbidden, message) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group: forbidden, message }] }] },
})

export default tseslint.config(
  {
    ignores: [
      'node_modules',
      'dist',
      'data',
      '.cache',
      'test-results',
      'server/database/migrations',
    ],
  },
  ...tseslint.configs.strict,
  ...vue.configs['flat/essential'],
  {
    files: ['**/*.vue'],
    languageOptions: {
      parser: vueParser,
      parserOptions: { parser: tseslint.parser, sourceType: 'module' },
    },
  },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-dynamic-delete': 'off',
      '@typescript-eslint/no-empty-function': 'off',
      'vue/multi-word-component-names': 'off',
      'no-console': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  { files: ['bench/**', 'e2e/screenshots.ts'], rules: { 'no-console': 'off' } },
  // The core knows no clock, no I/O and no framework.
  room(
    ['core/**/*.ts'],
    [
      '#server/*',
      '#web/*',
      '#contract/*',
      '#demo/*',
      'koa*',
      'joi',
      'vue*',
      'drizzle*',
      'better-sqlite3',
      'node:*',
    ],
    'The core is pure.',
  ),
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'The core has no clock.',
        },
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'The core has no clock.',
        },
      ],
    },
  },
  { files: ['core/calc/main.ts'], rules: { 'no-restricted-imports': 'off' } },
  room(
    ['contract/**/*.ts'],
    ['#server/*', '#web/*', '#demo/*', 'koa*', 'vue*'],
    'The contract knows only the core.',
  ),
  room(
    ['web/src/**/*.ts', 'web/src/**/*.vue'],
    ['#server/*', '#demo/*', 'node:*'],
    'The interface knows the contract and the core.',
  ),
  room(
    ['server/areas/**/*.ts', 'server/engine/**/*.ts', 'server/database/**/*.ts'],
    ['koa*', '@koa/*'],
    'Only http/ knows Koa.',
  ),
  // Everything that changes data goes through the journal, everything about time asks the clock.
  {
    files: ['server/**/*.ts'],
    ignores: [
      '**/*.test.ts',
      'server/engine/journal.ts',
      'server/database/**',
      'server/engine/clock.ts',
    ],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'CallExpression[callee.property.name="prepare"] > :matches(Literal, TemplateLiteral)[value=/^\\s*(insert|update|delete|replace)/i]',
          message: 'Only the journal writes.',
        },
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'Ask the clock.',
        },
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'Ask the clock.',
        },
      ],
    },
  },
)
