import { expect, test } from './house.ts'

/** Series on the screen: said in words, decided about date by date, and looked over in the round. */

test('a series is said in words, its dates follow, and one of them is left out and brought back', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/new')
  await page.getByLabel('Name of the series').fill('Linen')
  await page.getByLabel('Title of each task').fill('Count the linen')
  const choose = async (button: RegExp, line: string) => {
    await page.getByRole('button', { name: button }).click()
    await page.getByRole('menuitemradio', { name: line, exact: true }).click()
  }
  await choose(/^Kind of schedule/, 'on days of the week')
  await page.getByRole('button', { name: 'Fri', exact: true }).click()
  await page.getByRole('button', { name: 'Mon', exact: true }).click()
  await page.getByLabel('Every so many weeks').fill('2')
  await page.getByLabel('Every so many weeks').press('Tab')
  const margin = page.getByRole('complementary', { name: 'The next dates' })
  await expect(margin.locator('.date').first()).toContainText('Fri 27 Nov')
  await expect(margin.locator('.date').nth(1)).toContainText('Fri 11 Dec')
  await choose(/^While the one before is open/, 'it waits until that is closed')
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
  await page.getByRole('button', { name: /^Kind of schedule/ }).click()
  await page.getByRole('menuitemradio', { name: 'so long after the last one was done' }).click()
  await page.getByRole('button', { name: /^Counted in/ }).click()
  await page.getByRole('menuitemradio', { name: 'weeks' }).click()
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
