import { expect, test, choose, setAll } from './house.ts'
import { project, read, view, violations } from './work.ts'

test('a list: added to a phase, dragged, put in order, changed many at once, and taken back', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks, phases } = await project(page, house.url, [])
  void tasks
  for (const title of ['One', 'Two', 'Three'])
    await page.request.post('/api/v1/tasks', {
      data: { title, projectId: id, phaseId: phases[0]!.id, due: '2026-11-20' },
      headers: { Origin: house.url },
    })
  await page.goto(`/work/${id}`)
  const names = () => page.locator('.gr .name').allTextContents()
  await expect.poll(names).toEqual(['One', 'Two', 'Three'])
  await page.getByLabel('Add a task to Close').fill('Four')
  await page.getByLabel('Add a task to Close').press('Enter')
  await expect.poll(names).toEqual(['One', 'Two', 'Three', 'Four'])
  const row = (title: string) =>
    page.locator('.line', {
      has: page.locator('.gr', { has: page.getByRole('button', { name: title, exact: true }) }),
    })
  // By keyboard past the row below, and back; then dragged.
  await page.getByRole('button', { name: 'One', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(names).toEqual(['Two', 'One', 'Three', 'Four'])
  await page.getByRole('button', { name: 'One', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(names).toEqual(['One', 'Two', 'Three', 'Four'])
  await row('Three').dragTo(row('One'))
  await expect.poll(names).toEqual(['Three', 'One', 'Two', 'Four'])
  await row('One').dragTo(row('Four'))
  await expect.poll(names).toEqual(['Three', 'Two', 'One', 'Four'])
  await expect(page.getByText('“One” is under Close now.')).toBeVisible()

  // By keyboard: to a field of the row, and set it.
  await page.getByRole('button', { name: 'Three', exact: true }).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await page.keyboard.type('fri 3pm')
  await page.keyboard.press('Enter')
  await expect(row('Three')).toContainText('Fri 27 Nov, 15:00')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(row('Three')).toContainText('Fri 20 Nov')

  // Mark a run of rows, then everything.
  await page.getByRole('button', { name: 'Three', exact: true }).focus()
  await page.keyboard.press('x')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+X')
  await expect(
    page.getByRole('region', { name: 'Marked tasks' }).getByText('2 tasks marked'),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Mark all 4' }).click()
  await expect(
    page.getByRole('region', { name: 'Marked tasks' }).getByText('4 tasks marked'),
  ).toBeVisible()
  await setAll(page, 'Priority')
  await page.getByRole('option', { name: 'Urgent' }).click()
  await expect(page.getByText('4 tasks changed.')).toBeVisible()
  await page.getByLabel('Working days to move by').fill('3')
  await page.getByRole('button', { name: 'On ▸' }).click()
  await expect(page.getByText('3 tasks moved on by 3 working days.')).toBeVisible()
  await expect(row('Three')).toContainText('Wed 25 Nov')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(row('Three')).toContainText('Fri 20 Nov')
  await page.getByRole('button', { name: 'Slipped to today' }).click()
  await expect(page.getByText('3 slipped tasks brought to today.')).toBeVisible()
  // Later, from the journal.
  await page.goto('/work/journal')
  await page
    .locator('.change', { hasText: /priority Normal → Urgent/ })
    .getByRole('button', { name: /^Undo/ })
    .first()
    .click()
  await expect(page.getByText(/Taken back: 4 things as before/)).toBeVisible()
})

test('a table: from cell to cell by keyboard, typed into, pasted over from a spreadsheet with new rows', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [{ title: 'First' }, { title: 'Second' }])
  await page.goto(`/work/${id}`)
  await choose(page.getByLabel('Groups'), 'none')
  await view(page, 'Table')
  const cell = (row: number, at: number) =>
    page.locator('.gr').nth(row).locator(`[data-at="${at}"]`)
  await cell(0, 0).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  // The due date, as people type it.
  await page.keyboard.type('3 dec')
  await page.keyboard.press('Enter')
  await expect(cell(0, 2)).toContainText('Thu 3 Dec')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.type('1h 30m')
  await page.keyboard.press('Enter')
  await expect(cell(0, 3)).toContainText('1h 30m')
  await cell(0, 2).focus()
  await page.keyboard.type('fri 3pm')
  await page.keyboard.press('Enter')
  await expect(cell(0, 2)).toContainText('Fri 27 Nov, 15:00')
  await cell(0, 2).focus()
  await page.keyboard.type('31 feb')
  await page.keyboard.press('Enter')
  await expect(
    page.getByText('“31 feb” is not a date, such as 3 Dec, fri or 3/12/2026.'),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  const paste = (text: string) =>
    page.evaluate((words) => {
      const data = new DataTransfer()
      data.setData('text/plain', words)
      document.activeElement!.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      )
    }, text)
  await cell(1, 0).focus()
  await paste('Second, again\tTobias Okonjo\t4/12/2026\t45\nThird\tNobody at all\t\t')
  await expect(page.getByText(/Row 2, On it: “Nobody at all” is not one of/)).toBeVisible()
  await cell(1, 0).focus()
  await paste(
    'Second, again\tTobias Okonjo\t4/12/2026\t45\nThird\tImogen Achterberg; Devika Rao\t\t90\n"Fourth, with a\ttab"',
  )
  await expect(page.getByText('3 tasks pasted over.')).toBeVisible()
  await expect
    .poll(() => page.locator('.gr .name').allTextContents())
    .toEqual(['First', 'Second, again', 'Third', 'Fourth, with a\ttab'])
  expect(await read(page, tasks[1]!.id)).toMatchObject({
    due: '2026-12-04',
    assignees: [{ name: 'Tobias Okonjo' }],
  })
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(() => page.locator('.gr .name').allTextContents()).toEqual(['First', 'Second'])
  expect(await violations(page)).toEqual([])
})

test('a filter, kept as a view, shared, opened by somebody else; a field of it goes', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await page.getByRole('button', { name: /^Filter/ }).click()
  await page.getByRole('button', { name: 'Add a test' }).click()
  await choose(page.getByLabel('Field').nth(1), 'Records')
  await page.getByRole('button', { name: 'Value: choose' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'All here' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByText(/^\d+ tasks$/)).toBeVisible()
  await page.getByRole('button', { name: 'Keep as…' }).click()
  await page.getByLabel('Name of the view').fill('All records are here')
  await page.getByLabel('Everybody may open it').check()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'All records are here' })).toBeVisible()
  const address = page.url()
  await page.getByRole('button', { name: 'More for the view' }).click()
  await page.getByRole('menuitem', { name: 'Rename…' }).click()
  await page.getByLabel('Name of the view').fill('Everything is here')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Everything is here' })).toBeVisible()
  const other = await as('member')
  await other.goto(address)
  await expect(other.getByText('shared by Imogen Achterberg')).toBeVisible()
  await other.getByRole('button', { name: 'More for the view' }).click()
  await expect(other.getByRole('menuitem', { name: 'Remove' })).toHaveCount(0)
})
