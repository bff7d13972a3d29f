import type { Page } from '@playwright/test'
import { expect, test } from './house.ts'

/**
 * The main deeds by keyboard alone. Keys are counted as pressed, those held with another as two;
 * what is typed as words is not. After each key something has the focus.
 */
class Keys {
  count = 0
  constructor(readonly page: Page) {}
  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.count += key.length > 1 ? key.split('+').length : 1
      await this.page.keyboard.press(key)
      await this.held(key)
    }
  }
  async type(text: string): Promise<void> {
    await this.page.keyboard.type(text)
    await this.held(text)
  }
  /** Presses a key until what has the focus is called so; gives up after `most`. */
  async until(key: string, name: RegExp, most = 40): Promise<void> {
    for (let i = 0; i < most; i++) {
      if (name.test(await this.focusName())) return
      await this.press(key)
    }
    throw new Error(`${key} ${most} times does not come to ${name}: ${await this.focusName()}`)
  }
  focusName(): Promise<string> {
    return this.page.evaluate(() => {
      const el = document.activeElement as HTMLInputElement | null
      const label = el?.labels?.[0]?.innerText
      return el?.getAttribute('aria-label') ?? label ?? el?.innerText?.trim() ?? ''
    })
  }
  private async held(key: string): Promise<void> {
    await expect
      .poll(() => this.page.evaluate(() => document.activeElement !== document.body), {
        message: `the focus is nowhere after ${key}`,
        timeout: 3_000,
      })
      .toBe(true)
  }
}
const said = (page: Page, text: string | RegExp) =>
  expect(page.getByRole('status').filter({ hasText: text })).toBeVisible()
const focused = (page: Page) => page.locator(':focus')

test('signing in, ticking, taking it back', async ({ page, house }) => {
  await page.goto(`${house.url}/door`)
  const keys = new Keys(page)
  await expect(page.getByRole('heading', { name: 'Fernwick' })).toBeVisible()
  await keys.until('Tab', /^Operations manager/)
  await keys.press('Enter')
  expect(keys.count).toBeLessThanOrEqual(5)
  await expect(page.locator('.row').first()).toBeVisible()

  const first = page.locator('.row [role=checkbox]').first()
  const name = (await first.getAttribute('aria-label'))!
  const box = page.getByRole('checkbox', { name, exact: true })
  keys.count = 0
  await keys.press('ArrowDown', 't')
  await said(page, 'is done')
  await keys.press('Control+z')
  await expect(box).toHaveAttribute('aria-checked', 'false')
  expect(keys.count).toBeLessThanOrEqual(6)
})

test('opening a task, and setting its state, date, person and tag, a comment, a file', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/39')
  const grid = page.locator('[role$=grid]')
  await expect(grid.locator('.name').first()).toBeVisible()
  await expect(focused(page)).toHaveAttribute('id', 'main')
  const keys = new Keys(page)
  await keys.press('ArrowDown', 'Enter')
  const sheet = page.getByRole('region', { name: 'Task' })
  await expect(sheet.getByRole('textbox', { name: 'Title' })).toBeVisible()
  const state = sheet.getByRole('button', { name: /^State: / })
  const before = (await state.getAttribute('aria-label'))!
  await keys.press('s')
  await expect(page.getByRole('menu', { name: 'State' })).toBeVisible()
  await keys.press('w', 'Enter')
  await expect(state).toHaveAccessibleName(/^State: With the clinic/)
  expect(keys.count).toBeLessThanOrEqual(8)
  expect(before).not.toMatch(/With/)

  await keys.press('Escape')
  await expect(sheet).toHaveCount(0)
  await expect(focused(page)).toHaveClass(/name/)
  // On the row itself: its date, who is on it.
  const row = focused(page).locator('xpath=ancestor::*[@role="row"]')
  keys.count = 0
  await keys.press('d')
  await keys.type('4 Dec')
  await keys.press('Enter')
  await expect(row).toContainText('Fri 4 Dec')
  await keys.press('a')
  await keys.type('Devika')
  await keys.press('Enter', 'Escape')
  await expect(row.getByRole('button', { name: /^On it: .*Devika Rao/ })).toBeVisible()
  expect(keys.count).toBeLessThanOrEqual(8)

  keys.count = 0
  await keys.press('Enter')
  await expect(sheet.getByRole('combobox', { name: 'Tags' })).toBeVisible()
  await keys.press('g')
  await keys.type('client asked')
  await keys.press('Enter')
  await expect(sheet.locator('.v-chip', { hasText: 'client asked' })).toBeVisible()
  await keys.press('Escape', 'Shift+Tab')
  await keys.until('Shift+Tab', /^State: /)
  await keys.press('c')
  await keys.type('Over to you @Devi')
  await expect(page.getByRole('option', { name: /Devika/ })).toBeVisible()
  await keys.press('Enter')
  await keys.type(' please')
  await keys.press('Control+Enter')
  await expect(sheet.locator('.note')).toContainText(/Over to you @Devika Rao\s+please/)

  // A file is chosen in the system's own window, which a key opens.
  const asked = page.waitForEvent('filechooser')
  await keys.until('Shift+Tab', /Choose files|Browse|Add files/i)
  await keys.press('Enter')
  await (
    await asked
  ).setFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('n') })
  await expect(sheet.getByText('notes.txt')).toBeVisible()
})

test('a board: from slip to slip, into the next column, past the one above', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work/39')
  await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
  const keys = new Keys(page)
  await keys.until('Tab', /^List$/)
  await keys.press('Tab', 'Enter', 'w')
  const slip = focused(page)
  await expect(slip).toHaveClass(/name/)
  const name = await slip.innerText()
  const column = () => slip.locator('xpath=ancestor::section').getAttribute('aria-label')
  const from = await column()
  await keys.press('Alt+ArrowRight')
  await expect.poll(column).not.toBe(from)
  await expect(slip).toHaveText(name)
  await keys.press('ArrowLeft')
  await expect.poll(column).toBe(from)
  await keys.press('ArrowRight', 'Home')
  const top = await slip.innerText()
  await keys.press('Alt+ArrowDown')
  await said(page, 'The order is changed.')
  await expect(slip).toHaveText(top)
  await expect(slip.locator('xpath=ancestor::section').locator('.name').nth(1)).toHaveText(top)
  await keys.press('s')
  await expect(page.getByRole('dialog', { name: 'State' })).toBeVisible()
  await keys.press('Escape')
  await expect(slip).toHaveText(top)
  await keys.press('End')
  await expect(slip).toHaveAccessibleName(/^Add a task to /)
})

test('a calendar: from day to day, a task opened, moved, and noted', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work/39')
  await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
  const keys = new Keys(page)
  await keys.until('Tab', /^List$/)
  await keys.press('Tab', 'Tab', 'Enter')
  await expect(page.getByRole('grid', { name: 'Calendar: November 2026' })).toBeVisible()
  await keys.press('w')
  const on = focused(page)
  await expect(on).toHaveAccessibleName(/^Mon 23 Nov, today, /)
  // Down through the weeks to December, on another sheet.
  await keys.press('PageDown')
  await expect(page.getByRole('grid', { name: 'Calendar: December 2026' })).toBeVisible()
  await expect(on).toHaveAccessibleName(/^Tue 1 Dec/)
  await keys.until('ArrowRight', /^Fri 25 Dec, Christmas Day/, 30)
  await keys.press('Enter')
  await keys.type('Holiday cover')
  await keys.press('Enter')
  await said(page, '“Holiday cover” is due Fri 25 Dec.')
  await expect(on).toHaveAccessibleName(/^Holiday cover, .*due Fri 25 Dec/)
  await keys.press('Alt+ArrowLeft')
  await expect(on).toHaveAccessibleName(/^Holiday cover, .*due Thu 24 Dec/)
  await keys.press('Enter')
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Holiday cover')
  await keys.press('Escape')
  await expect(on).toHaveAccessibleName(/^Holiday cover/)
})

test('a view grouped, filtered and kept', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
  const keys = new Keys(page)
  await keys.until('Tab', /^Groups$/)
  await keys.press('ArrowDown')
  await expect(page.getByRole('listbox')).toBeVisible()
  await keys.type('Priority')
  await keys.press('Enter')
  const grid = page.locator('[role$=grid]')
  await expect(grid.getByRole('button', { name: /^Urgent/ })).toBeVisible()
  await keys.until('Shift+Tab', /^Filter/)
  await keys.press('Enter')
  await expect(focused(page)).toHaveAccessibleName('How many must hold')
  await keys.until('Tab', /^Add a test/)
  await keys.press('Enter')
  await expect(focused(page)).toHaveAccessibleName('Field')
  await keys.type('Tag')
  await keys.press('Enter')
  await keys.until('Tab', /^Value: choose/)
  await keys.press('Enter', 'r', 'Enter', 'Escape')
  await expect(focused(page)).toHaveAccessibleName('Value: records missing')
  await keys.press('Escape')
  await expect(focused(page)).toHaveText(/Filter/)
  await keys.until('Tab', /^Keep as/)
  await keys.press('Enter')
  const dialog = page.getByRole('dialog', { name: /Keep/ })
  await expect(dialog).toBeVisible()
  await keys.type('By priority')
  await keys.press('Enter')
  await expect(page).toHaveURL(/\/work\/view\/\d+/)
  await expect(page.getByRole('heading', { name: 'By priority' })).toBeVisible()
})

test('five marked, and moved two working days', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
  const keys = new Keys(page)
  await keys.press('ArrowDown', 'x')
  for (let i = 0; i < 4; i++) await keys.press('ArrowDown', 'x')
  await expect(page.getByRole('region', { name: 'Marked tasks' })).toContainText('5 tasks marked')
  await keys.press('b', '2', 'Enter')
  await said(page, '5 tasks moved on by 2 working days.')
  expect(keys.count).toBeLessThanOrEqual(15)
  await keys.press('Escape')
  await keys.press('w', 'Control+z')
  await said(page, /^Taken back: 5 tasks/)
})

test('a project started from a template', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/clockwork/templates/1')
  await expect(page.getByRole('heading', { name: 'Try it' })).toBeVisible()
  const keys = new Keys(page)
  await keys.until('Tab', /^Name of the project/, 120)
  await keys.type('By keys')
  await keys.until('Tab', /^Start it now/, 5)
  await keys.press('Enter')
  await expect(page).toHaveURL(/\/work\/\d+$/)
  await expect(page.locator('[role$=grid] .name').first()).toBeVisible()
})
