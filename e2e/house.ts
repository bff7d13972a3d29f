import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { test as base, expect, type Page } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))
/** Monday 23 November 2026, noon in London. */
export const NOON = '2026-11-23T12:00:00Z'

interface House {
  readonly url: string
  readonly data: string
  /** Moves the server's clock, from alarm to alarm, to an ISO instant. */
  clock(to: string): Promise<void>
}

/**
 * A demo firm of its own for each test, served from the build on a free port and stopped by process
 * id.
 */
export const test = base.extend<{
  as: (who: 'manager' | 'member' | 'contractor' | 'client') => Promise<Page>
  house: House
}>({
  house: [
    async ({}, use) => {
      const data = mkdtempSync(join(tmpdir(), 'fernwick-e2e-'))
      const env = {
        ...process.env,
        FERNWICK_DATA: data,
        FERNWICK_TEST_NOW: NOON,
        FERNWICK_MIGRATIONS: join(root, 'server/database/migrations'),
        FERNWICK_WEB: join(root, 'dist/web'),
        PORT: '0',
      }
      const made = spawnSync(process.execPath, ['dist/server/demo/make.js'], {
        cwd: root,
        env,
        encoding: 'utf8',
      })
      if (made.status !== 0) throw new Error(made.stderr)
      const child = spawn(process.execPath, ['dist/server/server/main.js'], {
        cwd: root,
        env,
        stdio: ['ignore', 'pipe', 'inherit'],
      })
      const url = await new Promise<string>((resolve, reject) => {
        child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
        child.stdout.on('data', (text: Buffer) => {
          const found = /http:\/\/\S+/.exec(text.toString())
          if (found) resolve(found[0])
        })
      })
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
      child.kill('SIGTERM')
      await new Promise((resolve) => child.once('exit', resolve))
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
