import type { Page } from '@playwright/test'
import { choose, expect, test } from './house.ts'

interface Rule {
  readonly id: number
  readonly name: string
  readonly version: number
  readonly owner: { readonly id: number } | null
  readonly definition: object
}
const ruleOf = async (page: Page, id: number): Promise<Rule> =>
  ((await (await page.request.get('/api/v1/rules')).json()) as Rule[]).find((r) => r.id === id)!

/** Saves a rule as somebody else would, from another window. */
async function saveElsewhere(page: Page, origin: string, id: number, edit: Partial<Rule>) {
  const rule = await ruleOf(page, id)
  const { name, definition } = { ...rule, ...edit }
  const done = await page.request.put(`/api/v1/rules/${id}`, {
    data: { name, ownerId: rule.owner?.id ?? null, definition },
    headers: { Origin: origin, 'If-Match': `"${rule.version}"` },
  })
  expect(done.status()).toBe(200)
}

test('two people on one rule: what each changed stands, and the same is asked about', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/rules/2')
  const name = page.getByLabel('Name of the rule')
  const was = await name.inputValue()
  // One adds a rung while the other gives it another name.
  await page.getByRole('button', { name: 'Add a rung' }).click()
  await saveElsewhere(page, house.url, 2, { name: `${was}, elsewhere` })
  await expect(name).toHaveValue(`${was}, elsewhere`)
  await page.getByRole('button', { name: /^Save as version/ }).click()
  await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible()
  expect((await ruleOf(page, 2)).name).toBe(`${was}, elsewhere`)
  // Both give it another name.
  await name.fill('Mine')
  await saveElsewhere(page, house.url, 2, { name: 'Theirs' })
  const asks = page.getByRole('alertdialog', { name: 'Two versions' })
  await expect(asks.getByRole('row', { name: 'Name Mine Theirs' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(asks).toBeVisible()
  await asks.getByRole('button', { name: 'Keep mine' }).click()
  await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible()
  expect((await ruleOf(page, 2)).name).toBe('Mine')
})

test('a session ends while a form is full: it is there again, for that person alone', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/series/1')
  const name = page.getByLabel('Name of the series')
  const was = await name.inputValue()
  await name.fill('Half written')
  await page.request.delete('/api/v1/session', { headers: { Origin: house.url } })
  // The next question finds the session gone.
  await page.getByRole('button', { name: /^Find or note/ }).click()
  await page.keyboard.type('books')
  await expect(page).toHaveURL(/\/door/)
  await page.getByRole('button', { name: /^Member/ }).click()
  await expect(page).not.toHaveURL(/\/door/)
  await page.goto('/clockwork/series/1')
  await expect(name).toHaveValue(was)
  await page.getByRole('button', { name: /Signed in as/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await page.getByRole('button', { name: /^Operations manager/ }).click()
  await expect(page).not.toHaveURL(/\/door/)
  await page.goto('/clockwork/series/1')
  await expect(name).toHaveValue('Half written')
  await page.getByRole('button', { name: 'Drop the changes' }).click()
  await expect(name).toHaveValue(was)
})

test('every kind of field by keyboard and by mouse', async ({ as, house }) => {
  const page = await as('manager')
  const { id } = (await (
    await page.request.post('/api/v1/tasks', {
      data: { title: 'Fields', due: '2026-11-27' },
      headers: { Origin: house.url },
    })
  ).json()) as { id: number }
  const now = async () =>
    (await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as {
      due: string
      dueTime: string | null
      assignees: { name: string }[]
    }
  await page.goto(`/work/all?task=${id}`)
  const sheet = page.locator('.tasksheet')
  const due = sheet.getByLabel('Due', { exact: true })
  const time = sheet.getByLabel('Due time')

  // A date by keyboard: said while it is typed, refused with what would be right, put back by Esc.
  await due.fill('eom')
  await expect(sheet.getByText('Mon 30 Nov')).toBeVisible()
  await due.press('Enter')
  await expect.poll(async () => (await now()).due).toBe('2026-11-30')
  await due.fill('31 nov')
  await due.press('Enter')
  await expect(sheet.getByText('November has 30 days.')).toBeVisible()
  await expect(due).toHaveValue('31 nov')
  await due.press('Escape')
  await expect(due).toHaveValue('Mon 30 Nov')
  await expect(sheet).toBeVisible()
  // With its time, then the time alone: the date stays.
  await due.fill('fri 3pm')
  await due.press('Enter')
  await expect.poll(now).toMatchObject({ due: '2026-11-27', dueTime: '15:00' })
  await due.fill('16:30')
  await due.press('Enter')
  await expect.poll(now).toMatchObject({ due: '2026-11-27', dueTime: '16:30' })
  // By mouse: a day of the month, which says what kind of day it is.
  await due.press('ArrowDown')
  const days = page.locator('.v-date-picker')
  await expect(days.getByRole('button', { name: /Sat 28 Nov.*not a working day/ })).toBeVisible()
  await days.getByRole('button', { name: /^Thu 26 Nov/ }).click()
  await expect.poll(async () => (await now()).due).toBe('2026-11-26')

  // A time.
  await time.fill('25:00')
  await time.press('Enter')
  await expect(sheet.getByText('is no time of day')).toBeVisible()
  await time.fill('0915')
  await time.press('Enter')
  await expect.poll(async () => (await now()).dueTime).toBe('09:15')
  await time.fill('')
  await time.blur()
  await expect.poll(async () => (await now()).dueTime).toBeNull()

  // Several at once: put on by typing, taken off by keyboard and by mouse.
  const on = sheet.getByLabel('On it', { exact: true })
  await choose(on, 'Tobias Okonjo')
  await choose(on, 'Devika Rao')
  await page.keyboard.press('Escape')
  await expect
    .poll(async () => (await now()).assignees.map((a) => a.name))
    .toEqual(['Tobias Okonjo', 'Devika Rao'])
  await sheet.getByRole('button', { name: 'Take Tobias Okonjo off' }).first().click()
  await expect.poll(async () => (await now()).assignees.map((a) => a.name)).toEqual(['Devika Rao'])

  // One of a menu, by its first letter.
  await sheet.getByRole('button', { name: /^Priority/ }).focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('u')
  await page.keyboard.press('Enter')
  await expect(sheet.getByRole('button', { name: 'Priority: Urgent' })).toBeVisible()

  // A line that comes again leads to a series of it.
  await sheet.getByLabel('Add a subtask').fill('Chase it every friday 30m')
  await sheet.getByRole('link', { name: 'Make it a series' }).click()
  await expect(page.getByLabel('Name of the series')).toHaveValue('Chase it')
  await expect(
    page.getByRole('button', { name: 'Kind of schedule: on days of the week' }),
  ).toBeVisible()
})
