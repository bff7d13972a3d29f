import { choose, expect, test } from './house.ts'
import { project, violations } from './work.ts'

test('a project is put on hold, resumed with its dates moved as shown, and that is undone', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id } = await project(page, house.url, [{ title: 'Weigh the offer', due: '2026-12-03' }])
  await page.goto(`/work/${id}`)
  const more = async (line: RegExp) => {
    await page.getByRole('button', { name: 'More for this project' }).click()
    await page.getByRole('menuitem', { name: line }).click()
  }
  await more(/^Hold/)
  await expect(page.getByText('On hold', { exact: true })).toBeVisible()
  await page.request.post(`/api/test/clock?to=${Date.parse('2026-11-26T09:00:00Z')}`, {
    headers: { Origin: house.url },
  })
  await more(/^Resume/)
  const dialog = page.getByRole('dialog', { name: 'Resume the project' })
  await expect(dialog.getByText(/3 working days were lost/)).toBeVisible()
  await expect(dialog.getByRole('row', { name: /Weigh the offer/ })).toContainText('Tue 8 Dec')
  expect(await violations(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Resume it' }).click()
  await expect(page.getByText('On hold', { exact: true })).toHaveCount(0)
  await expect(page.getByText('Tue 8 Dec').first()).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByText('On hold', { exact: true })).toBeVisible()
})

test('projects by how far they are, and together by what they have in common', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/work')
  await page.getByRole('button', { name: /^On hold/ }).click()
  await expect(page.getByRole('link', { name: 'Hollin Street, new records' })).toBeVisible()
  await page.getByRole('button', { name: /^Proposed/ }).click()
  await expect(page.getByRole('link', { name: 'Saltreed, a second site' })).toBeVisible()
  await page.getByRole('button', { name: /^Running/ }).click()
  await choose(page.getByRole('combobox', { name: 'Together' }), 'by category')
  await expect(page.getByRole('heading', { name: /^Payroll/ })).toBeVisible()
  await expect(page.getByRole('heading', { name: /^Books \d+ projects/ })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.emulateMedia({ colorScheme: 'dark' })
  expect(await violations(page)).toEqual([])
})
