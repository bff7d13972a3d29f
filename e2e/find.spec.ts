import { expect, test } from './house.ts'
import { read, violations } from './work.ts'

test('the find box: a line becomes a task, words find it, a number opens it, marked tasks are changed', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await expect(page.locator('.gr').first()).toBeVisible()
  await page.keyboard.press('n')
  const box = page.locator('.finds input')
  await box.fill('Chase statements Mossgate fri 3pm 30m urgent')
  await expect(page.getByRole('option', { name: /Chase statements/ })).toContainText(
    'Mossgate Veterinary Clinic · due Fri 27 Nov, 15:00 · 30m · Urgent · on you',
  )
  expect(await violations(page)).toEqual([])
  await box.press('Enter')
  await expect(page.getByText(/Noted as #\d+: “Chase statements”/)).toBeVisible()
  await page.keyboard.press('/')
  await page.locator('.finds input').fill('chase stateme')
  await page.getByRole('option').filter({ hasText: 'Chase statements' }).first().click()
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Chase statements')
  const id = Number(new URL(page.url()).searchParams.get('task'))
  const made = await read(page, id)
  expect(made).toMatchObject({
    due: '2026-11-27',
    dueTime: '15:00',
    estimate: 30,
    priority: 'urgent',
    client: { short: 'Mossgate' },
  } as Record<string, unknown>)
  await page.getByRole('button', { name: 'Close the task' }).click()
  await page.keyboard.press('Control+k')
  await page.locator('.finds input').fill(`#${id}`)
  await expect(page.locator('.finds [role=option]').first()).toContainText('Chase statements')
  await page.keyboard.press('Escape')
  await page.locator('.gr .name').first().focus()
  await page.keyboard.press('x')
  await page.keyboard.press('/')
  await page.locator('.finds input').fill('due 24 dec 3pm')
  await expect(page.getByRole('option', { name: /Due: Thu 24 Dec, 15:00/ })).toContainText(
    '1 task marked',
  )
  await page.locator('.finds input').press('Enter')
  await expect(page.getByText('1 task changed. Due: Thu 24 Dec, 15:00.')).toBeVisible()
  void house
})
