import { spawn, spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base, expect, type Locator, type Page } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))
/** Monday 23 November 2026, noon in London. */
export const NOON = '2026-11-23T12:00:00Z'

/** Every page there is, some of them with a task open. */
export const VIEWS = [
  '/today',
  '/today?task=590',
  '/work',
  '/work/39',
  '/work/39?about',
  '/work/all',
  '/work/view/1?task=843',
  '/work/set-up',
  '/work/journal',
  '/work/bring-in',
  '/keys',
  '/me',
  '/clients',
  '/people',
  '/people/teams',
  '/people/firm',
  '/people/3/sees',
  '/who-sees/project/39',
  '/who-sees/task/590',
  '/first-steps',
  '/clockwork/templates',
  '/clockwork/templates/1',
  '/clockwork/templates/bring-in',
  '/clockwork/series/1',
  '/clockwork/round',
  '/clockwork/rules/1',
  '/clockwork/log',
  '/clockwork/why',
  '/notices',
  '/notices/mail',
]

interface House {
  readonly url: string
  readonly data: string
  /** Moves the server's clock, from alarm to alarm, to an ISO instant. */
  clock(to: string): Promise<void>
}

const folder = () => mkdtempSync(join(tmpdir(), 'fernwick-e2e-'))
const envFor = (data: string) => ({
  ...process.env,
  FERNWICK_DATA: data,
  FERNWICK_TEST_NOW: NOON,
  FERNWICK_MIGRATIONS: join(root, 'server/database/migrations'),
  FERNWICK_WEB: join(root, 'dist/web'),
  PORT: '0',
})

/** Serves a folder from the build, on a free port; stopped by process id. */
async function serve(data: string): Promise<{ url: string; stop: () => Promise<void> }> {
  const child = spawn(process.execPath, ['dist/server/server/main.js'], {
    cwd: root,
    env: envFor(data),
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise<string>((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
    child.stdout.on('data', (text: Buffer) => {
      const found = /http:\/\/\S+/.exec(text.toString())
      if (found) resolve(found[0])
    })
  })
  return {
    url,
    async stop() {
      child.kill('SIGTERM')
      await new Promise((resolve) => child.once('exit', resolve))
    },
  }
}

/**
 * A demo firm of its own for each test, a copy of one made once, served from the build on a free
 * port and stopped by process id.
 */
export const test = base.extend<
  {
    as: (who: 'manager' | 'member' | 'contractor' | 'client') => Promise<Page>
    house: House
    /** The address of a server on an empty folder. */
    empty: string
  },
  { demo: string }
>({
  demo: [
    async ({}, use) => {
      const data = folder()
      const made = spawnSync(process.execPath, ['dist/server/demo/make.js'], {
        cwd: root,
        env: envFor(data),
        encoding: 'utf8',
      })
      if (made.status !== 0) throw new Error(made.stderr)
      await use(data)
      rmSync(data, { recursive: true })
    },
    { scope: 'worker' },
  ],
  house: [
    async ({ demo }, use) => {
      const data = folder()
      cpSync(demo, data, { recursive: true })
      const { url, stop } = await serve(data)
      await use({
        url,
        data,
        async clock(to) {
          const answer = await fetch(`${url}/api/test/clock?to=${Date.parse(to)}`, {
            method: 'POST',
            headers: { Origin: url },
          })
          expect(answer.status).toBe(200)
        },
      })
      await stop()
      rmSync(data, { recursive: true })
    },
    { scope: 'test' },
  ],
  empty: [
    async ({}, use) => {
      const data = folder()
      const { url, stop } = await serve(data)
      await use(url)
      await stop()
      rmSync(data, { recursive: true })
    },
    { scope: 'test' },
  ],
  as: async ({ browser, house }, use) => {
    const faults: string[] = []
    await use(async (who) => {
      const context = await browser.newContext({ baseURL: house.url })
      const page = await context.newPage()
      page.on('pageerror', (error) => faults.push(error.message))
      await page.request.post('/api/v1/session/demo', {
        data: { who },
        headers: { Origin: house.url },
      })
      return page
    })
    for (const context of browser.contexts()) await context.close()
    expect(faults).toEqual([])
  },
})
export { expect }

/** Opens a field of choices and takes one, by its name; long lists are narrowed by it first. */
export async function choose(field: Locator, name: string): Promise<void> {
  await field.focus()
  if (await field.evaluate((input) => input.closest('.v-autocomplete') !== null))
    await field.fill(name)
  else await field.press('ArrowDown')
  await field.page().getByRole('option', { name, exact: true }).click()
}
/** Opens what sets a field of everything that is marked. */
export async function setAll(page: Page, field: string): Promise<void> {
  await page.getByRole('button', { name: 'Set a field of all marked' }).click()
  await page.getByRole('menuitem', { name: field, exact: true }).click()
}
