import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, it } from 'vitest'
import { TASK_FIELDS } from '#core/fields/task.ts'
import { LABELS } from '#contract/labels.ts'

/** What the screen says against the glossary. */
const root = fileURLToPath(new URL('../..', import.meta.url))
const glossary = readFileSync(join(root, 'docs/words.md'), 'utf8')
const [buttons = '', fields = ''] = glossary.split('## What fields are called')
const cells = (part: string) =>
  part
    .split('\n')
    .filter((line) => line.startsWith('| ') && !/^\| (---|Word \||Field \|)/.test(line))
    .map((line) => line.split('|').map((cell) => cell.trim()))
const words = (cell = '') => cell.split(', ').filter(Boolean)
const VERBS = new Set(cells(buttons).flatMap((row) => words(row[1])))
const NOT = cells(buttons).flatMap((row) => words(row[3]))

const sources = readdirSync(join(root, 'web/src'), { recursive: true, encoding: 'utf8' })
  .filter((path) => path.endsWith('.vue') || (path.endsWith('.ts') && !path.endsWith('.test.ts')))
  .map((path) => ({ path, text: readFileSync(join(root, 'web/src', path), 'utf8') }))
/** Words on buttons and lines of menus that are written out, each with where. */
const said = sources.flatMap(({ path, text }) =>
  [
    ...[...text.matchAll(/<v-btn\b(?:"[^"]*"|[^>"])*>([^<]*)<\/v-btn>/g)].map((m) => m[1]!),
    ...[...text.matchAll(/\{ name: '([^']+)', (?:run|to|file)/g)].map((m) => m[1]!),
    ...[...text.matchAll(/\bdoes="([A-Z][^"]*)"/g)].map((m) => m[1]!),
  ].flatMap((each) => {
    const plain = each
      .replace(/\{\{.*?\}\}/gs, '')
      .replace(/\s+/g, ' ')
      .trim()
    return /^\p{Lu}/u.test(plain) ? [{ path, plain }] : []
  }),
)

it('every button and line of a menu begins with a word of the glossary', () => {
  expect(said.length).toBeGreaterThan(90)
  const odd = said.filter(({ plain }) => !VERBS.has(plain.split(/[ …,]/)[0]!))
  expect(odd).toEqual([])
})
it('none says what the glossary says otherwise', () => {
  const others = NOT.filter((word) => !VERBS.has(word))
  expect(others.length).toBeGreaterThan(20)
  const odd = said.filter(({ plain }) =>
    others.some((word) => new RegExp(`^${word}\\b`).test(plain)),
  )
  expect(odd).toEqual([])
})
it('what errors call fields by stands in the glossary, and tasks’ fields are called one way', () => {
  const known = new Set(cells(fields).map((row) => row[1]))
  expect(Object.values(LABELS).filter((label) => !known.has(label))).toEqual([])
  for (const { key, label } of TASK_FIELDS)
    if (key && key in LABELS) expect([key, LABELS[key]]).toEqual([key, label])
})
