import type { Locator, Page } from '@playwright/test'
import { expect, test } from './house.ts'

/** Whatever may be asked later because of what was done, in milliseconds. */
const LATEST = 9_000

/** Does something, and tells what the server was asked because of it. */
async function askedBy(page: Page, act: () => Promise<unknown>): Promise<string[]> {
  // What the page asked for while it opened is answered, and what waits for its turn was asked.
  await page.waitForTimeout(LATEST)
  const asked: string[] = []
  page.on('request', (r) => {
    if (r.url().includes('/api/v1/'))
      asked.push(`${r.method()} ${decodeURIComponent(r.url().split('/api/v1')[1]!)}`)
  })
  await act()
  await page.waitForTimeout(LATEST)
  return asked
}
/** The first that is not ticked yet. */
const open = (boxes: Locator) => boxes.and(boxes.page().locator('[aria-checked=false]')).first()

for (const [where, path, boxes] of [
  ['on Today', '/today', '.row [role=checkbox]'],
  ['in a list of a project', '/work/39', '[role$=grid] [role=checkbox]'],
  ['in a list of the firm', '/work/all', '[role$=grid] [role=checkbox]'],
] as const)
  test(`a tick ${where} is seen at once, and causes two requests at most`, async ({ as }) => {
    const page = await as('manager')
    await page.goto(path)
    const box = open(page.locator(boxes))
    await expect(box).toBeVisible()
    const name = (await box.getAttribute('aria-label'))!
    const asked = await askedBy(page, async () => {
      await page.route('**/api/v1/tasks/*', async (route) => {
        // Its answer is still on the way.
        await expect(page.getByRole('checkbox', { name, checked: true }).first()).toBeVisible()
        await route.continue()
      })
      await box.click()
    })
    expect(asked.length, asked.join('\n')).toBeLessThanOrEqual(2)
    expect(asked[0]).toMatch(/^PATCH \/tasks\/\d+$/)
  })

test('a step ticked in a task causes two requests at most', async ({ as, house }) => {
  const page = await as('manager')
  const { id } = (await (
    await page.request.post('/api/v1/tasks', {
      data: { title: 'Steps', projectId: 39, checklist: ['Only'] },
      headers: { Origin: house.url },
    })
  ).json()) as { id: number }
  await page.goto(`/work/39?task=${id}`)
  const step = page.locator('.tasksheet').getByRole('checkbox', { name: 'Only' })
  await expect(step).toBeVisible()
  const asked = await askedBy(page, () => step.click())
  expect(asked.length, asked.join('\n')).toBeLessThanOrEqual(2)
})

test('what was shown a moment ago is there at once, and asked for only if something changed', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/today')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.getByRole('link', { name: 'Clockwork' }).click()
  await expect(page.getByRole('heading', { name: 'Templates' })).toBeVisible()
  const asked = await askedBy(page, async () => {
    await page.getByRole('link', { name: 'Today', exact: true }).click()
    await expect(page.getByRole('heading', { level: 1, name: /November/ })).toBeVisible()
  })
  expect(asked).toEqual([])
})
