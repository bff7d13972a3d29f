import type { Locator, Page } from '@playwright/test'
import { expect, test as base } from './house.ts'

/** A phone: 390 wide, with fingers. */
const test = base.extend<{ phone: Page }>({
  phone: async ({ browser, house }, use) => {
    const context = await browser.newContext({
      baseURL: house.url,
      viewport: { width: 390, height: 844 },
      hasTouch: true,
      isMobile: true,
    })
    await use(await context.newPage())
    await context.close()
  },
})

/** How far a finger that means something meets it, across its middle, in pixels. */
const met = (target: Locator) =>
  target.evaluate((el) => {
    const { left, top, width, height } = el.getBoundingClientRect()
    const [x, y] = [left + width / 2, top + height / 2]
    const hits = (dx: number, dy: number) => {
      const at = document.elementFromPoint(x + dx, y + dy)
      return at !== null && el.contains(at)
    }
    const reach = (dx: number, dy: number) => {
      let n = 0
      while (n < 60 && hits(dx * (n + 1), dy * (n + 1))) n++
      return n
    }
    return { wide: reach(-1, 0) + reach(1, 0) + 1, high: reach(0, -1) + reach(0, 1) + 1 }
  })
/** Taps, counted; what they open must be in sight, and what is tapped large enough to be met. */
class Taps {
  count = 0
  constructor(readonly page: Page) {}
  async tap(target: Locator, least = 24): Promise<void> {
    await expect(target).toBeEnabled()
    // In the middle: what is said at the foot of the page lies over nothing there. What has just
    // been made may still find its place: it counts as it lies once the page is at rest.
    const reach = async () => {
      await target.evaluate((el) => el.scrollIntoView({ block: 'center' }))
      const { wide, high } = await met(target)
      return Math.min(wide, high)
    }
    await expect
      .poll(reach, { message: `how large ${String(target)} is` })
      .toBeGreaterThanOrEqual(least)
    this.count++
    await target.tap()
  }
  async opens(what: Locator): Promise<void> {
    await expect(what).toBeInViewport()
  }
}
const said = (page: Page, text: string | RegExp) =>
  expect(page.getByRole('status').filter({ hasText: text })).toBeVisible()
const signIn = (page: Page, url: string) =>
  page.request.post('/api/v1/session/demo', { data: { who: 'manager' }, headers: { Origin: url } })

test('by finger: signing in, ticking, taking it back', async ({ phone: page }) => {
  const taps = new Taps(page)
  await page.goto('/door')
  await taps.tap(page.getByRole('button', { name: /^Operations manager/ }), 44)
  const boxes = page.locator('.row [role=checkbox]')
  await taps.opens(boxes.first())
  const name = (await boxes.first().getAttribute('aria-label'))!
  await taps.tap(boxes.first())
  await said(page, 'is done')
  await taps.tap(page.getByRole('button', { name: 'Undo' }), 24)
  await expect(page.getByRole('checkbox', { name, exact: true })).toHaveAttribute(
    'aria-checked',
    'false',
  )
  expect(taps.count).toBe(3)
})

test('by finger: a task opened, its state, date, person, tag, a comment and a file', async ({
  phone: page,
  house,
}) => {
  await signIn(page, house.url)
  await page.goto('/work/39')
  const taps = new Taps(page)
  const row = page.locator('[role$=grid] .name').nth(1)
  const name = await row.innerText()
  await taps.tap(row)
  const title = page.getByRole('textbox', { name: 'Title' })
  await expect(title).toHaveValue(name)
  await taps.opens(title)
  const sheet = page.getByRole('region', { name: 'Task' })
  const state = sheet.getByRole('button', { name: /^State: / })
  await taps.tap(state)
  const choice = page.getByRole('menuitemradio', { name: 'With the clinic' })
  await taps.opens(choice)
  await taps.tap(choice, 44)
  await expect(state).toHaveAccessibleName('State: With the clinic')
  expect(taps.count).toBeLessThanOrEqual(3)

  await taps.tap(sheet.getByRole('button', { name: 'Open the calendar' }).first())
  const day = page.locator('.v-date-picker-month').getByRole('button', { name: /^Fri 4 Dec/ })
  await taps.opens(day)
  await taps.tap(day)
  await expect(sheet.getByRole('textbox', { name: 'Due', exact: true })).toHaveValue(/Fri 4 Dec/)

  await sheet.getByRole('combobox', { name: 'On it' }).tap()
  const person = page.getByRole('option', { name: 'Devika Rao' })
  await taps.opens(person)
  await taps.tap(person, 44)
  await expect(sheet.locator('.v-chip', { hasText: 'Devika Rao' })).toBeVisible()
  await page.keyboard.press('Escape')
  await sheet.getByRole('combobox', { name: 'Tags' }).tap()
  const tag = page.getByRole('option', { name: 'client asked' })
  await taps.opens(tag)
  await taps.tap(tag, 44)
  await expect(sheet.locator('.v-chip', { hasText: 'client asked' })).toBeVisible()
  await page.keyboard.press('Escape')

  const comment = sheet.getByRole('textbox', { name: 'Comment' })
  await taps.tap(comment)
  await page.keyboard.type('For @Devi')
  const named = page.getByRole('option', { name: /Devika/ })
  await taps.opens(named)
  await taps.tap(named)
  await page.keyboard.type(' too')
  await taps.tap(sheet.getByRole('button', { name: 'Comment', exact: true }))
  await expect(sheet.locator('.note')).toContainText(/For @Devika Rao\s+too/)
  const asked = page.waitForEvent('filechooser')
  await taps.tap(sheet.locator('.v-file-upload-dropzone'))
  await (await asked).setFiles({ name: 'a.txt', mimeType: 'text/plain', buffer: Buffer.from('a') })
  await expect(sheet.getByText('a.txt')).toBeVisible()
  await taps.tap(page.getByRole('button', { name: 'Close the task' }), 44)
  await taps.opens(page.locator('[role$=grid] .name', { hasText: name }).first())
})
const show = async (taps: Taps, page: Page, kind: string, from = 'List') => {
  await taps.tap(page.getByRole('button', { name: from, exact: true }))
  await taps.tap(page.getByRole('button', { name: kind, exact: true }))
}

test('by finger: a board, its slips moved without dragging', async ({ phone: page, house }) => {
  await signIn(page, house.url)
  await page.goto('/work/39')
  const taps = new Taps(page)
  await show(taps, page, 'Board')
  const slip = page.locator('.slip').first()
  await taps.opens(slip)
  const name = await slip.locator('.name').innerText()
  const column = (await slip.locator('xpath=ancestor::section').getAttribute('aria-label'))!
  await taps.tap(slip.getByRole('checkbox', { name: `Mark ${name}` }))
  await taps.tap(page.getByRole('button', { name: 'Move to…' }), 44)
  const to = page.getByRole('menuitem', { name: /^To (?!the )/ }).first()
  await taps.opens(to)
  await taps.tap(to, 44)
  await expect(
    page.getByRole('region', { name: column, exact: true }).locator('.name', { hasText: name }),
  ).toHaveCount(0)
})

test('by finger: a calendar, a task noted on a day and moved to another', async ({
  phone: page,
  house,
}) => {
  await signIn(page, house.url)
  await page.goto('/work/39')
  const taps = new Taps(page)
  await show(taps, page, 'Calendar')
  await taps.tap(page.getByRole('button', { name: 'Add a task due Wed 4 Nov' }))
  const line = page.getByRole('textbox', { name: 'What is to be done' })
  await taps.opens(line)
  await line.fill('By finger')
  await line.press('Enter')
  await said(page, '“By finger” is due')
  const bar = page.getByRole('button', { name: /^By finger, / })
  await taps.tap(bar)
  await taps.opens(page.getByRole('textbox', { name: 'Title' }))
  await taps.tap(page.getByRole('button', { name: 'Open the calendar' }).first())
  await taps.tap(page.locator('.v-date-picker-month').getByRole('button', { name: /^Fri 6 Nov/ }))
  await taps.tap(page.getByRole('button', { name: 'Close the task' }), 44)
  await expect(bar).toHaveAccessibleName(/due Fri 6 Nov/)
})

test('by finger: grouped, filtered and kept', async ({ phone: page, house }) => {
  await signIn(page, house.url)
  await page.goto('/work/all')
  const taps = new Taps(page)
  await taps.tap(page.getByRole('button', { name: 'List', exact: true }))
  const groups = page.getByRole('combobox', { name: 'Groups' })
  await taps.opens(groups)
  await groups.tap()
  await groups.fill('Priority')
  await taps.tap(page.getByRole('option', { name: 'Priority', exact: true }), 44)
  await page.keyboard.press('Escape')
  await expect(
    page.locator('[role$=grid]').getByRole('button', { name: /^Urgent/ }),
  ).toBeInViewport()
  await taps.tap(page.getByRole('button', { name: /^Filter/ }))
  await taps.tap(page.getByRole('button', { name: 'Add a test' }))
  await taps.opens(page.getByRole('button', { name: 'Value: Whoever looks' }))
  await taps.tap(page.getByRole('button', { name: /^Filter/ }))
  await taps.tap(page.getByRole('button', { name: 'List', exact: true }))
  await taps.tap(page.getByRole('button', { name: /^Keep as/ }))
  const name = page.getByRole('dialog').getByLabel('Name of the view')
  await taps.opens(name)
  await name.fill('Mine by priority')
  await taps.tap(page.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }))
  await expect(page.getByRole('heading', { name: 'Mine by priority' })).toBeInViewport()
})

test('by finger: five marked and moved two working days', async ({ phone: page, house }) => {
  await signIn(page, house.url)
  await page.goto('/work/all')
  const taps = new Taps(page)
  const marks = page.getByRole('checkbox', { name: /^Mark / })
  for (let i = 0; i < 5; i++) await taps.tap(marks.nth(i))
  const bulk = page.getByRole('region', { name: 'Marked tasks' })
  await taps.opens(bulk)
  await bulk.getByLabel('Working days to move by').fill('2')
  await taps.tap(bulk.getByRole('button', { name: 'On ▸' }))
  await said(page, '5 tasks moved on by 2 working days.')
  expect(taps.count).toBe(6)
})

test('by finger: a project started from a template', async ({ phone: page, house }) => {
  await signIn(page, house.url)
  await page.goto('/clockwork/templates/1')
  const taps = new Taps(page)
  const name = page.getByLabel('Name of the project')
  await name.fill('By finger')
  await taps.tap(page.getByRole('button', { name: 'Start it now' }))
  await expect(page.locator('[role$=grid] .name').first()).toBeInViewport()
})
