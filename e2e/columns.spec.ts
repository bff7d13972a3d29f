import { expect, test } from './house.ts'
import { project, view } from './work.ts'

test('columns of a board are added, renamed, ordered and removed where they stand', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id } = await project(page, house.url, [{ title: 'Only one' }])
  await page.goto(`/work/${id}`)
  await view(page, 'Board')
  const columns = () => page.locator('.col h2 .nm').allInnerTexts()
  const more = (name: string) =>
    page.getByRole('button', { name: `More for the column ${name}`, exact: true })
  const line = (name: string | RegExp) => page.getByRole('menuitem', { name })
  await expect.poll(columns).toEqual(['Gather', 'Close', 'In no phase'])

  await page.getByRole('button', { name: 'Add a column' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name of the column').fill('File')
  await dialog.getByRole('button', { name: 'Add', exact: true }).click()
  await expect.poll(columns).toEqual(['Gather', 'Close', 'File', 'In no phase'])
  await more('File').click()
  await line('To the left').click()
  await expect.poll(columns).toEqual(['Gather', 'File', 'Close', 'In no phase'])
  await more('Close').click()
  await line('Rename…').click()
  await dialog.getByLabel('Name of the column').fill('Finish')
  await dialog.getByRole('button', { name: 'Save', exact: true }).click()
  await expect.poll(columns).toEqual(['Gather', 'File', 'Finish', 'In no phase'])
  await more('File').click()
  await line(/^Remove/).click()
  await expect.poll(columns).toEqual(['Gather', 'Finish', 'In no phase'])
  await page.keyboard.press('Control+z')
  await expect.poll(columns).toEqual(['Gather', 'File', 'Finish', 'In no phase'])
})

test('a column that is a state has a colour, and its tasks go to its neighbour when it goes', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/39')
  await view(page, 'Board')
  const by = page.getByRole('combobox', { name: 'Columns' })
  await by.fill('State')
  await page.getByRole('option', { name: 'State', exact: true }).click()
  const columns = () => page.locator('.col h2 .nm').allInnerTexts()
  await expect.poll(columns).toContain('With the clinic')
  const before = await columns()
  await page.getByRole('button', { name: 'Add a column' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name of the column').fill('Posted')
  await dialog.getByRole('button', { name: 'Add', exact: true }).click()
  await expect.poll(columns).toEqual([...before, 'Posted'])
  await page.getByRole('button', { name: 'More for the column With the clinic' }).click()
  const at = before.indexOf('With the clinic')
  await expect(page.getByRole('menuitem', { name: /^Remove/ })).toContainText(
    `its tasks go to ${before[at + 1]}`,
  )
  await page.keyboard.press('Escape')
})
