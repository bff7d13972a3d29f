import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/** Arrows between the rooms point one way: web -> contract -> core, server -> contract, core. */
const room = (files, forbidden, message) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ group: forbidden, message }] }],
  },
})

/** Asking the system for the time. */
const time = (message) => [
  { selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']", message },
  { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message },
]

const WRITES = 'insert into|delete from|replace into|pragma'
/** Talking to SQLite in words, instead of through the tables. */
const SQL_WORDS = [
  {
    selector: 'CallExpression[callee.property.name=/^(prepare|pragma|pluck|iterate)$/]',
    message: 'Ask through database/query.ts; only the journal writes.',
  },
  {
    selector:
      ':not(TaggedTemplateExpression) > :matches(' +
      `Literal[value=/^\\s*(select .+ from|update .+ set|${WRITES})\\s/i], ` +
      `TemplateLiteral[quasis.0.value.raw=/^\\s*(select|update|${WRITES})\\s/i])`,
    message: 'No SQL in strings: the builder, or a typed sql template, knows the columns.',
  },
]

/** Each has one writer, so that every run is told whole, and nobody is told of one thing twice. */
const ONE_WRITER = [
  ['runs', 'engine/runs.ts'],
  ['notices', 'areas/notices/notify.ts'],
].map(([table, file]) => ({
  selector: `CallExpression[callee.property.name='insert'] > Literal[value='${table}']`,
  message: `Only ${file} writes ${table}.`,
}))

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
  // What is read by people is short; tests tell a story each, which may take longer.
  { rules: { complexity: ['error', 12], 'max-len': ['error', { code: 120 }] } },
  {
    ignores: ['**/*.test.ts', 'server/test/**', 'e2e/**'],
    rules: {
      'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ['**/*.vue'], rules: { 'vue/max-template-depth': ['error', { maxDepth: 8 }] } },
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
    rules: { 'no-restricted-syntax': ['error', ...time('The core has no clock.')] },
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
  // Schemas stay on the server: a value out of a file of theirs brings 50 kB along.
  {
    files: ['web/src/**/*.ts', 'web/src/**/*.vue'],
    ignores: ['**/*.test.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex:
                '^#contract/(clockwork|common|conditions|feeds|projects|query|rules|series|setup|steps|tasks)',
              allowTypeImports: true,
              message: 'This file of the contract holds schemas: import types alone.',
            },
          ],
        },
      ],
    },
  },
  room(
    ['server/engine/**/*.ts', 'server/database/**/*.ts'],
    ['koa*', '@koa/*', '**/areas/**', '**/http/**', '**/assembly.ts'],
    'The engine knows no area and no Koa: what areas do is handed to it.',
  ),
  // Areas read through a reader and write through the journal; hands and connections are not theirs.
  room(
    ['server/areas/**/*.ts'],
    ['koa*', '@koa/*', 'better-sqlite3', '**/database/open.ts', '**/database/hand.ts'],
    'Areas read through engine.reader and write through the journal.',
  ),
  // Everything that changes data goes through the journal, everything about time asks the clock.
  {
    files: ['server/**/*.ts', 'demo/**/*.ts'],
    ignores: [
      '**/*.test.ts',
      'server/database/**',
      'server/engine/clock.ts',
      'server/test/**',
      'demo/make.ts',
    ],
    rules: {
      'no-restricted-syntax': ['error', ...SQL_WORDS, ...time('Ask the clock.'), ...ONE_WRITER],
    },
  },
  {
    files: ['server/engine/runs.ts', 'server/areas/notices/notify.ts'],
    rules: { 'no-restricted-syntax': ['error', ...SQL_WORDS, ...time('Ask the clock.')] },
  },
  // Types flow from the tables and the schemas; nothing is called what it is not.
  {
    files: ['server/areas/**/*.ts', 'server/http/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      '@typescript-eslint/consistent-type-assertions': ['error', { assertionStyle: 'never' }],
    },
  },
)
