import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Page } from '@playwright/test'
import { expect, test } from './house.ts'
import { view } from './work.ts'

/**
 * What screen readers are told of each main view, against what was kept: roles and names in their
 * order, and for the rows of grids their indices, levels and states. `KEEP_TREES=1` keeps what is
 * there now.
 */
const kept = join(fileURLToPath(new URL('.', import.meta.url)), 'trees')
/** So much of a view tells how it is built. */
const LINES = 140
const ROWS = 24

const rows = (page: Page) =>
  page.locator('main [role=row]').evaluateAll((all, most) => {
    const told = ['rowindex', 'level', 'expanded', 'selected']
    return all.slice(0, most).map((row) => {
      const said = told.flatMap((name) => {
        const value = row.getAttribute(`aria-${name}`)
        return value === null ? [] : [`${name}=${value}`]
      })
      const cells = [...row.querySelectorAll('[role$=cell], [role$=header]')].map((cell) =>
        ['colindex', 'colspan', 'sort'].reduce((line, name) => {
          const value = cell.getAttribute(`aria-${name}`)
          return value === null || value === 'none' ? line : `${line} ${name}=${value}`
        }, cell.getAttribute('role')!),
      )
      return `row ${said.join(' ')}: ${cells.join(', ')}`
    })
  }, ROWS)
async function tree(page: Page): Promise<string> {
  const [snapshot, lines] = [await page.locator('main').first().ariaSnapshot(), await rows(page)]
  const told = snapshot.split('\n').slice(0, LINES)
  return [...told, ...(lines.length ? ['', ...lines] : []), ''].join('\n')
}
async function compare(page: Page, name: string): Promise<void> {
  const file = join(kept, `${name}.txt`)
  if (process.env['KEEP_TREES']) {
    mkdirSync(kept, { recursive: true })
    let told = ''
    // What still comes is waited for: twice the same is all of it.
    await expect
      .poll(async () => told === (told = await tree(page)), { intervals: [500] })
      .toBe(true)
    writeFileSync(file, told)
  }
  expect(existsSync(file), `${name} is kept`).toBe(true)
  const before = readFileSync(file, 'utf8')
  await expect.poll(() => tree(page), { message: name }).toBe(before)
}

const PAGES: readonly (readonly [name: string, path: string, here: string])[] = [
  ['today', '/today', '.row'],
  ['task', '/today?task=590', '.tasksheet .title'],
  ['projects', '/work', 'table tbody tr'],
  ['list', '/work/39', '[role$=grid] .name'],
  ['about', '/work/39?about', 'h2'],
  ['all-work', '/work/all', '[role$=grid] .name'],
  ['set-up', '/work/set-up', 'h2'],
  ['journal', '/work/journal', '.change'],
  ['templates', '/clockwork/templates', 'table tbody tr'],
  ['template', '/clockwork/templates/1', '#try-name'],
  ['series', '/clockwork/series/1', '.date'],
  ['rule', '/clockwork/rules/1', 'form'],
  ['run-log', '/clockwork/log', '.run'],
  ['why', '/clockwork/why', '.late li'],
  ['notices', '/notices', '.one'],
]
for (const [name, path, here] of PAGES)
  test(`screen readers are told of ${name} as they were`, async ({ as }) => {
    const page = await as('manager')
    await page.goto(path)
    await expect(page.locator(here).first()).toBeVisible()
    await expect(page.locator('.v-skeleton-loader')).toHaveCount(0)
    await compare(page, name)
  })
for (const [name, here] of [
  ['Board', '.slip'],
  ['Calendar', '.ent'],
  ['Timeline', '.tb'],
  ['Table', '[data-at]'],
] as const)
  test(`screen readers are told of a ${name.toLowerCase()} as they were`, async ({ as }) => {
    const page = await as('manager')
    await page.goto('/work/39')
    await view(page, name)
    await expect(page.locator(here).first()).toBeVisible()
    await compare(page, name.toLowerCase())
  })
