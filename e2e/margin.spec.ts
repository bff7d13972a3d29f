import type { Locator, Page } from '@playwright/test'
import { expect, test } from './house.ts'

const SIZES = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]
/** Whether the beginning of something stands in the window. */
const inSight = (of: Locator) =>
  of.evaluate((el) => {
    const { top, left } = el.getBoundingClientRect()
    return top >= 0 && top < innerHeight && left >= 0 && left < innerWidth
  })
const title = (page: Page) => page.getByRole('textbox', { name: 'Title' })
const focused = (page: Page) => page.locator(':focus')

for (const size of SIZES)
  for (const [where, path, opener] of [
    ['Today', '/today', '.row .open'],
    ['a long list', '/work/all', '[role$=grid] .name'],
    ['a board', '/work/39', '.slip .name'],
  ] as const)
    test(`a task of ${where} opens in sight with the focus, and gives it back, at ${size.width}`, async ({
      as,
    }) => {
      const page = await as('manager')
      await page.setViewportSize(size)
      await page.goto(path)
      if (where === 'a board') {
        if (size.width < 560) await page.getByRole('button', { name: 'List', exact: true }).click()
        await page.getByRole('button', { name: 'Board', exact: true }).click()
      }
      const from = page.locator(opener).nth(2)
      const name = await from.innerText()
      await from.press('Enter')
      await expect(title(page)).toHaveValue(name)
      expect(await inSight(title(page))).toBe(true)
      await expect(focused(page)).toHaveAccessibleName('Task')
      await page.keyboard.press('Escape')
      await expect(title(page)).toHaveCount(0)
      await expect(focused(page)).toHaveText(name)
    })

test('where a row is gone, the focus goes to the next', async ({ as, house }) => {
  const page = await as('manager')
  const { id } = (await (
    await page.request.post('/api/v1/projects', {
      data: { name: 'Next', clientId: null, phases: ['Only'] },
      headers: { Origin: house.url },
    })
  ).json()) as { id: number }
  for (const name of ['One', 'Two', 'Three'])
    await page.request.post('/api/v1/tasks', {
      data: { title: name, projectId: id },
      headers: { Origin: house.url },
    })
  await page.goto(`/work/${id}`)
  await page.locator('[role$=grid] .name', { hasText: 'Two' }).press('Enter')
  await expect(title(page)).toHaveValue('Two')
  await page.getByRole('button', { name: 'More for this task' }).click()
  await page.getByRole('menuitem', { name: 'Archive', exact: true }).click()
  await page.getByRole('button', { name: 'Close the task' }).click()
  await expect(focused(page)).toHaveText('Three')
})

test('whoever notes one task after the other is not taken away from the line', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/today')
  const line = page.getByRole('textbox', { name: 'Add a task' })
  await line.fill('First of two')
  await line.press('Enter')
  await expect(title(page)).toHaveValue('First of two')
  await expect(line).toBeFocused()
})

test('the tip says what a mark stands for, to the pointer and to the focus, and goes with Esc', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/today')
  const tip = page.locator('.v-tooltip .v-overlay__content:visible')
  const who = page.locator('.row .person').first()
  await who.hover()
  await expect(tip).toHaveText((await who.getAttribute('aria-label'))!)
  // It can be pointed at, and stays.
  await tip.hover()
  await expect(tip).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(tip).toHaveCount(0)
  const notices = page.getByRole('link', { name: /^Notices/ })
  await page.getByRole('button', { name: 'Find or note' }).focus()
  await page.keyboard.press('Tab')
  await expect(notices).toBeFocused()
  await page.keyboard.press('Tab')
  await expect(tip).toHaveText('Light or dark')
})

test('a dialog takes the focus to its first field, and gives it back to what opened it', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/39')
  const more = page.getByRole('button', { name: 'More for this project' })
  await more.press('Enter')
  await page.getByRole('menuitem', { name: 'Copy…' }).press('Enter')
  const dialog = page.getByRole('dialog', { name: 'Copy the project' })
  const name = dialog.getByLabel('Name of the copy')
  await expect(name).toBeFocused()
  // What was written is not lost to a press beside it.
  await name.fill('Another name')
  await page.mouse.click(5, 400)
  await expect(name).toHaveValue('Another name')
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await expect(more).toBeFocused()
})

test('what was done last is taken back by Ctrl+Z and from the find box, the one before it too', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/today')
  const boxes = page.locator('.row [role=checkbox]')
  const names = [
    await boxes.nth(0).getAttribute('aria-label'),
    await boxes.nth(1).getAttribute('aria-label'),
  ]
  const box = (i: number) => page.getByRole('checkbox', { name: names[i]!, exact: true })
  await box(0).click()
  await expect(page.getByRole('status').filter({ hasText: 'is done' })).toBeVisible()
  await box(1).click()
  await expect(page.getByRole('status')).toContainText([names[1]!.replace('Done: ', '')])
  await page.keyboard.press('Control+z')
  await expect(page.getByText(/^Taken back: /)).toBeVisible()
  await expect(box(1)).toHaveAttribute('aria-checked', 'false')
  await page.keyboard.press('/')
  await page.getByRole('combobox', { name: 'Find, go, do or note' }).fill('undo')
  await expect(page.getByRole('option').first()).toContainText('Undo')
  await page.keyboard.press('Enter')
  await expect(box(0)).toHaveAttribute('aria-checked', 'false')
})

test('single letters can be switched off, and do nothing over something open', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/keys')
  const find = page.getByRole('combobox', { name: 'Find, go, do or note' })
  const letters = page.getByLabel(/do something by themselves/)
  await letters.setChecked(false)
  await letters.blur()
  await page.keyboard.press('/')
  await page.keyboard.press('Control+k')
  await expect(find).toBeVisible()
  await expect(find).toHaveValue('')
  await page.keyboard.press('Escape')
  await letters.setChecked(true)
  await letters.blur()
  await page.getByRole('button', { name: /^Signed in as/ }).click()
  await expect(page.getByRole('menu')).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('menu')).toHaveCount(0)
  await expect(find).toHaveCount(0)
  await page.keyboard.press('/')
  await expect(find).toBeVisible()
})

test('a grouped table and a list are one stop of Tab; arrows reach heads, cells and the last line', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/39')
  const grid = page.locator('[role$=grid]')
  await expect(grid).toHaveAttribute('role', 'treegrid')
  await expect(grid.locator('[tabindex="0"]:not(.grip, .heads *)')).toHaveCount(1)
  const first = grid.locator('.name').first()
  await first.focus()
  await page.keyboard.press('ArrowUp')
  await expect(focused(page)).toHaveAttribute('aria-expanded', 'true')
  await page.keyboard.press('ArrowLeft')
  await expect(focused(page)).toHaveAttribute('aria-expanded', 'false')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  await expect(first).toBeFocused()
  await page.keyboard.press('End')
  await expect(focused(page)).toHaveAccessibleName(/^Add a task to /)
  await page.keyboard.press('ArrowUp')
  await expect(focused(page)).toHaveClass(/name/)
  await page.keyboard.press('s')
  await expect(page.getByRole('listbox').or(page.getByRole('menu')).first()).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Table', exact: true }).click()
  const cell = grid.locator('[data-at][tabindex="0"]')
  await expect(cell).toHaveCount(1)
  await cell.focus()
  await page.keyboard.press('ArrowRight')
  await expect(focused(page)).toHaveAttribute('data-at', '1')
})
