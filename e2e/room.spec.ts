import type { Page } from '@playwright/test'
import { expect, test, VIEWS } from './house.ts'

const topOf = (page: Page, of: string) =>
  page
    .locator(of)
    .first()
    .evaluate((el) => el.getBoundingClientRect().top)
const kind = async (page: Page, name: string, from = 'List') => {
  const folded = page.getByRole('button', { name: from, exact: true })
  if ((page.viewportSize()?.width ?? 0) < 560) await folded.click()
  await page.getByRole('button', { name, exact: true }).click()
}

for (const [width, height, most] of [
  [1280, 800, 240],
  [390, 844, 260],
] as const)
  test(`the work of a project begins by y = ${most} at ${width}`, async ({ as }) => {
    const page = await as('manager')
    await page.setViewportSize({ width, height })
    await page.goto('/work/39')
    await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
    expect(await topOf(page, '[role$=grid]')).toBeLessThanOrEqual(most)
    if (width < 900) return
    let from = 'List'
    for (const [name, first] of [
      ['Board', '.board'],
      ['Calendar', '.wk'],
      ['Timeline', '[aria-label=Timeline]'],
    ] as const) {
      await kind(page, name, from)
      from = name
      await expect(page.locator(first).first()).toBeVisible()
      expect(await topOf(page, first), name).toBeLessThanOrEqual(most)
    }
  })

test('the days above fold to a line and open again, as each person keeps it', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work')
  const ribbon = page.getByRole('group', { name: 'Day ribbon' })
  const high = () => ribbon.evaluate((el) => el.getBoundingClientRect().height)
  await expect(ribbon.getByRole('button', { name: /Mon 23 Nov/ })).toBeVisible()
  expect(await high()).toBeLessThan(40)
  await page.getByRole('button', { name: 'Show how full the days are' }).click()
  await expect.poll(high).toBeGreaterThan(70)
  await page.reload()
  await expect(ribbon.getByRole('button', { name: /Mon 23 Nov/ })).toBeVisible()
  expect(await high()).toBeGreaterThan(70)
})

test('at 320 wide no page scrolls sideways, each has one heading; a project names the window', async ({
  as,
}) => {
  test.setTimeout(120_000)
  const page = await as('manager')
  await page.setViewportSize({ width: 320, height: 640 })
  for (const view of VIEWS) {
    await page.goto(view)
    await expect(page.locator('h1')).toHaveCount(1)
    await expect(page.locator('.v-skeleton-loader')).toHaveCount(0)
    const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)
    expect(over, view).toBeLessThanOrEqual(0)
  }
  await page.goto('/work/39')
  await expect(page.locator('[role$=grid]')).toBeVisible()
  await expect(page).toHaveTitle(`${await page.locator('h1').innerText()} · Fernwick`)
})

test('a long list on a phone holds only the rows in sight, and its bulk bar stays there too', async ({
  as,
}) => {
  const page = await as('manager')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto('/work/all')
  const names = page.locator('[role$=grid] .name')
  await expect(names.first()).toBeVisible()
  expect(await names.count()).toBeLessThan(40)
  await page
    .getByRole('checkbox', { name: /^Mark / })
    .first()
    .check()
  const bulk = page.getByRole('region', { name: 'Marked tasks' })
  await expect(bulk).toBeInViewport()
})

test('on a phone a series opens in place of its list, and leads back to it', async ({ as }) => {
  const page = await as('manager')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto('/clockwork/series')
  const list = page.getByRole('navigation', { name: 'Series' })
  await list.getByText('Books, Mossgate').click()
  await expect(page.getByRole('textbox', { name: 'Name of the series' })).toBeInViewport()
  await expect(list).toBeHidden()
  await page.getByRole('link', { name: 'All series' }).click()
  await expect(list).toBeVisible()
})

/** WCAG 2.2, 1.4.12: line height 1.5, paragraphs 2, letters 0.12, words 0.16 of the size of the text. */
const SPACED = `* { line-height: 1.5 !important; letter-spacing: 0.12em !important;
  word-spacing: 0.16em !important } p { margin-bottom: 2em !important }`
test('with more space in the text nothing is lost: no page scrolls sideways, no button cuts its words', async ({
  as,
}) => {
  test.setTimeout(120_000)
  const page = await as('manager')
  for (const view of VIEWS) {
    await page.goto(view)
    await expect(page.locator('h1')).toHaveCount(1)
    await expect(page.locator('.v-skeleton-loader')).toHaveCount(0)
    await page.addStyleTag({ content: SPACED })
    const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)
    expect(over, view).toBeLessThanOrEqual(0)
    const cut = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('main .v-btn:not(.v-btn--variant-plain)')]
        .filter((el) => el.getClientRects().length && getComputedStyle(el).overflow !== 'visible')
        .filter(
          (el) => el.scrollHeight > el.clientHeight + 2 || el.scrollWidth > el.clientWidth + 2,
        )
        .map((el) => el.innerText)
        .filter((words) => /\p{L}/u.test(words)),
    )
    expect(cut, view).toEqual([])
  }
})
