import { barsPng } from '#demo/files.ts'
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

test('a picture that is chosen stands on the slip of its task; a link stands there by its name', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id } = await project(page, house.url, [{ title: 'Sign the new board' }])
  await page.goto(`/work/${id}`)
  await view(page, 'Board')
  const slip = page.locator('.slip', { hasText: 'Sign the new board' })
  await slip.getByRole('button', { name: 'Sign the new board' }).click()
  const sheet = page.locator('.tasksheet')
  await sheet
    .locator('input[type=file]')
    .setInputFiles({ name: 'front.png', mimeType: 'image/png', buffer: barsPng([3, 1, 2]) })
  await sheet.getByRole('button', { name: 'Show on the board' }).click()
  const picture = slip.getByRole('img', { name: 'front.png' })
  await expect(picture).toBeVisible()
  await expect
    .poll(() => picture.evaluate((img) => (img as HTMLImageElement).naturalWidth))
    .toBeGreaterThan(0)

  await sheet.getByRole('button', { name: 'Add a link' }).click()
  await sheet.getByLabel('Address of the link').fill('example.test/terms')
  await sheet.getByRole('button', { name: 'Add', exact: true }).click()
  await sheet.getByRole('button', { name: 'Show on the board' }).click()
  await expect(picture).toHaveCount(0)
  await expect(slip.getByRole('link', { name: 'example.test/terms' })).toHaveAttribute(
    'href',
    'https://example.test/terms',
  )
  await page.keyboard.press('Control+z')
  await expect(picture).toBeVisible()
})

test('a project opens as its lead chose, until somebody looks at it in another way', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id } = await project(page, house.url, [{ title: 'Only one' }])
  const more = page.getByRole('button', { name: 'More for how the project is shown' })
  await page.goto(`/work/${id}`)
  await view(page, 'Board')
  await more.click()
  await page.getByRole('menuitem', { name: 'Open the project like this' }).click()
  await expect(page.getByText('opens like this for everybody')).toBeVisible()

  const member = await as('member')
  await member.goto(`/work/${id}`)
  await expect(member.locator('.slip')).toBeVisible()
  await expect(member.getByRole('button', { name: 'More for how the project' })).toHaveCount(0)
  await view(member, 'Table')
  await member.reload()
  await expect(member.locator('[data-at]').first()).toBeVisible()
  // Another choice for everybody is shown to everybody.
  await view(page, 'Calendar')
  await more.click()
  await page.getByRole('menuitem', { name: 'Open the project like this' }).click()
  await expect(member.locator('.ent, .wk').first()).toBeVisible()

  await more.click()
  await page.getByRole('menuitem', { name: 'Open it as any other' }).click()
  await expect(more).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await member.goto(`/work/${id}?again`)
  await expect(member.locator('.ent, .wk').first()).toBeVisible()
})
