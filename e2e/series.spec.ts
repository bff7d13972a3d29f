import type { Page } from '@playwright/test'
import { expect, test } from './house.ts'

/** Series on the screen: said in words, decided about date by date, and looked over in the round. */

/** Chooses a line for a word of a sentence. */
async function choose(page: Page, word: RegExp, line: string): Promise<void> {
  await page.getByRole('button', { name: word }).click()
  await page.getByRole('menuitemradio', { name: line, exact: true }).click()
}

test('a series is said in words, its dates follow, and one of them is left out and brought back', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/new')
  await page.getByLabel('Name of the series').fill('Linen')
  await page.getByLabel('Title of each task').fill('Count the linen')
  await choose(page, /^Kind of schedule/, 'on days of the week')
  await page.getByRole('button', { name: 'Fri', exact: true }).click()
  await page.getByRole('button', { name: 'Mon', exact: true }).click()
  await page.getByLabel('Every so many weeks').fill('2')
  await page.getByLabel('Every so many weeks').press('Tab')
  const margin = page.getByRole('complementary', { name: 'The next dates' })
  await expect(margin.locator('.date').first()).toContainText('Fri 27 Nov')
  await expect(margin.locator('.date').nth(1)).toContainText('Fri 11 Dec')
  await choose(page, /^While the one before is open/, 'it waits until that is closed')
  await page.getByRole('button', { name: 'Make the series' }).click()
  await expect(page.getByText('“Linen” is saved')).toBeVisible()
  await margin.getByRole('button', { name: 'More for Fri 11 Dec' }).click()
  await page.getByRole('menuitem', { name: 'Leave it out' }).click()
  await expect(margin.getByText('Left out')).toBeVisible()
  await expect(margin.locator('.date').nth(1)).toContainText('Fri 25 Dec')
  await margin.getByRole('button', { name: 'Bring it back' }).click()
  await expect(margin.locator('.date').nth(1)).toContainText('Fri 11 Dec')
  await margin.getByRole('button', { name: 'More for Fri 11 Dec' }).click()
  await page.getByRole('menuitem', { name: 'Move it' }).click()
  await page.getByRole('dialog').getByLabel('To').fill('14 Dec')
  await page.getByRole('dialog').getByRole('button', { name: 'Move it' }).click()
  await expect(margin.locator('.date').nth(1)).toContainText('moved by hand')
})

test('a change holds for a date and all later ones: the series is split there', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/1')
  await page.getByLabel('Name of the series').fill('Books, as from then')
  await page.getByRole('button', { name: /^What was changed holds for/ }).click()
  await page
    .getByRole('menuitemradio', { name: / and later$/ })
    .nth(1)
    .click()
  const saved = page.waitForURL((url) => !url.pathname.endsWith('/series/1'))
  await page.getByRole('button', { name: 'Save the series' }).click()
  await saved
  await expect(page.getByLabel('Name of the series')).toHaveValue('Books, as from then')
  await page.goto('/clockwork/series/1')
  await expect(page.getByLabel('Name of the series')).not.toHaveValue('Books, as from then')
  await expect(page.getByRole('button', { name: /^End/ })).toContainText('after a date')
})

test('so long after it was done: a kind of schedule, and a task that is repeated', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/new?title=Descale')
  await choose(page, /^Kind of schedule/, 'after the last one was done, by')
  await choose(page, /^Counted in/, 'weeks')
  await page.getByRole('button', { name: 'Make the series' }).click()
  await expect(page.getByText('“Descale” is saved')).toBeVisible()
  await expect(page.getByLabel('So many')).toHaveValue('28')
})

test('the round shows every client, and a date is made from it', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/clockwork/round?of=month&at=2026-12-01')
  await expect(page.getByRole('heading', { name: 'December 2026' })).toBeVisible()
  const date = page.getByRole('button', { name: /^Mossgate.*payroll, .*expected$/ })
  await date.click()
  await page.getByRole('menuitem', { name: 'Make it now' }).click()
  await expect(page.getByText('1 date made.')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Mossgate.*payroll, .*under way$/ })).toBeVisible()
  // Keys: up and down lead from client to client.
  const next = page.getByRole('button', { name: /^Penhollow.*books, / })
  await page.getByRole('button', { name: /^Mossgate.*books, / }).focus()
  await page.keyboard.press('ArrowDown')
  await expect(next).toBeFocused()
  await page.keyboard.press('Control+Enter')
  await page.getByRole('button', { name: 'On', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'January 2027' })).toBeVisible()
})

test('a series that a rule brings: made, given its rule, and brought by a project that is finished', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/new')
  await page.getByLabel('Name of the series').fill('Follow-up')
  await page.getByLabel('Title of each task').fill('Call {client}')
  await choose(page, /^Kind of schedule/, 'whenever a rule says so, after')
  await page.getByLabel('So many').fill('5')
  await page.getByLabel('So many').press('Tab')
  await choose(page, /^Counted in/, 'working days')
  await page.getByRole('button', { name: 'Make the series' }).click()
  await expect(page.getByText('it comes when a rule says so')).toBeVisible()
  await page.getByRole('link', { name: 'Make a rule for it' }).click()
  await expect(page.getByText('make the next of Follow-up')).toBeVisible()
  await page.getByLabel('Name of the rule').fill('Calls after projects')
  await page.getByRole('button', { name: 'Save, switched off' }).click()
  await page.getByLabel('Off', { exact: true }).click()
  await expect(page.getByText('“Calls after projects” is on.')).toBeVisible()
  await page.goto('/work/39')
  await page.getByRole('button', { name: 'More for this project' }).click()
  await page.getByRole('menuitem', { name: 'Finish', exact: true }).click()
  await expect(page.getByText('The project is finished.')).toBeVisible()
  await page.goto('/clockwork/rules')
  await page.getByRole('link', { name: /^Calls after projects/ }).click()
  await expect(page.getByText('Made the next of “Follow-up”')).toBeVisible()
})

test('holidays of the firm: one by hand, half of it, a file brought in, and what they move', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/people/firm')
  const list = page.getByRole('region', { name: 'Holidays' })
  await list.getByRole('button', { name: 'Add a holiday' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: 'Add it' }).click()
  await expect(dialog.getByText('Choose a day.')).toBeVisible()
  await dialog.getByLabel('Day', { exact: true }).fill('31 Dec')
  await dialog.getByLabel('What it is').fill('Stocktaking')
  await dialog.getByRole('button', { name: 'Add it' }).click()
  const row = list.getByRole('listitem').filter({ hasText: 'Stocktaking' })
  await expect(row).toContainText('entered here')
  await row.getByRole('button', { name: /^More for/ }).click()
  await page.getByRole('menuitem', { name: 'Take half a day' }).click()
  await expect(row).toContainText('half a day')
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(row).not.toContainText('half a day')
  await list.getByRole('button', { name: 'Bring in a calendar file' }).click()
  const day = (date: string, name: string) =>
    `BEGIN:VEVENT\r\nUID:${date}\r\nDTSTART;VALUE=DATE:${date}\r\nSUMMARY:${name}\r\nEND:VEVENT\r\n`
  await dialog.locator('input[type=file]').setInputFiles({
    ...{ name: 'days.ics', mimeType: 'text/calendar' },
    buffer: Buffer.from(
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${day('20261130', 'Moving house')}${day('20261231', 'Eve')}END:VCALENDAR\r\n`,
    ),
  })
  await expect(dialog.getByText('in place of one there')).toBeVisible()
  await dialog.getByRole('button', { name: 'Enter 1 holiday' }).click()
  await expect(list.getByText('Moving house')).toBeVisible()
  await page.goto('/clockwork/round')
  await expect(page.getByText('Made for days that are not what they were')).toBeVisible()
})
