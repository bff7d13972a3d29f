import type { Page } from '@playwright/test'
import { expect, test } from './house.ts'

/** Keeps a part of the program from being fetched; answers what lets it through again. */
async function withhold(page: Page, part: RegExp) {
  const refused: string[] = []
  await page.route(part, (route) => {
    refused.push(route.request().url())
    return route.abort()
  })
  return { refused, letThrough: () => page.unroute(part) }
}
const SAID = /could not be fetched/

test('a page that cannot be fetched says so, and is come to when it can', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/today')
  const rules = page.getByRole('link', { name: 'Clockwork' })
  await expect(rules).toBeVisible()
  await page.context().setOffline(true)
  await rules.click()
  await expect(page.getByText(SAID)).toBeVisible()
  await expect(page).toHaveURL(/\/today$/)
  await page.context().setOffline(false)
  await rules.click()
  await expect(page).toHaveURL(/\/clockwork\/templates$/)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  // Its looks came with it, though they were asked for in vain before.
  await expect
    .poll(() =>
      page.evaluate(
        () =>
          [...document.querySelectorAll<HTMLLinkElement>('link[rel=stylesheet]')].filter(
            ({ sheet }) => !sheet,
          ).length,
      ),
    )
    .toBe(0)
})

test('a task that cannot be shown yet comes by itself', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work/39')
  await expect(page.locator('[role$=grid]')).toBeVisible()
  const { refused, letThrough } = await withhold(page, /assets\/TaskSheet-.*\.js/)
  await page.locator('[role$=grid]').locator('.name').first().click()
  await expect(page.getByText(SAID)).toBeVisible()
  expect(refused.length).toBeGreaterThan(0)
  await letThrough()
  await expect(page.getByRole('textbox', { name: 'Title' })).toBeVisible()
})

test('what carries can be fetched later', async ({ as }) => {
  const page = await as('manager')
  const { refused, letThrough } = await withhold(page, /assets\/manager-.*\.js/)
  await page.goto('/work/39')
  await expect.poll(() => refused.length).toBeGreaterThan(0)
  await letThrough()
  const row = page.locator('[role$=grid]').locator('.name').first()
  await expect(async () => {
    await row.blur()
    await row.press('Alt+Enter')
    await expect(page.locator('.carried')).toBeVisible({ timeout: 1_000 })
  }).toPass()
  await page.keyboard.press('Escape')
  await expect(page.locator('.carried')).toHaveCount(0)
})
