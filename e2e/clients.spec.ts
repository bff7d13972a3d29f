import { choose, expect, test } from './house.ts'
import { violations } from './work.ts'

test('a client’s page: what runs, what waits on them, who is who; changed, and light and dark', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clients')
  await page.getByRole('link', { name: 'Mossgate Veterinary Clinic' }).click()
  await expect(
    page.getByRole('heading', { level: 1, name: 'Mossgate Veterinary Clinic' }),
  ).toBeVisible()
  await expect(page.getByText('Marisol Quane looks after it')).toBeVisible()
  const runs = page.getByRole('region', { name: 'What runs' })
  await expect(runs.getByRole('link', { name: /Mossgate/ }).first()).toBeVisible()
  const waits = page.getByRole('region', { name: 'Waits on them' })
  await expect(waits.getByText('Hester Lune').first()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Contacts' })).toContainText('Hester Lune')
  await expect(page.getByRole('region', { name: 'Series' }).getByText(/next/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Telephone').fill('01539 555 010')
  await dialog.getByRole('button', { name: 'Add a role' }).click()
  await dialog.getByRole('textbox', { name: 'Role 3' }).fill('Payroll')
  await choose(dialog.getByRole('combobox', { name: 'Usual person 3' }), 'Devika Rao')
  expect(await violations(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Usual Payroll', { exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: '01539 555 010' })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.emulateMedia({ colorScheme: 'dark' })
  expect(await violations(page)).toEqual([])
  // Its usual people are proposed where a template is started for it.
  await page.goto('/clockwork/templates')
  await page.getByRole('link', { name: 'Month-end books', exact: true }).click()
  await choose(page.getByRole('combobox', { name: 'Client' }), 'Mossgate Veterinary Clinic')
  await expect(page.getByRole('combobox', { name: 'Bookkeeper' })).toHaveValue('Tobias Okonjo')
})

test('clients come from vCards, looked at first; one that is the same is merged, and all of it undone', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clients')
  await page.getByRole('button', { name: 'Add clients' }).click()
  const card = (...lines: string[]) => ['BEGIN:VCARD', 'VERSION:4.0', ...lines, 'END:VCARD', '']
  const file = [
    ...card('KIND:org', 'FN:The Penhollow Pet Practice Ltd', 'TEL:01539 555 020'),
    ...card('KIND:org', 'FN:Beckside Dental'),
    ...card('FN:Ines Corbet', 'ORG:Beckside Dental', 'TITLE:Owner', 'EMAIL:ines@beckside.example'),
    ...card('FN:Nobody Known', 'ORG:Beckside Dental'),
  ].join('\r\n')
  await page.locator('input[type=file]').setInputFiles({
    ...{ name: 'clients.vcf', mimeType: 'text/vcard', buffer: Buffer.from(file) },
  })
  await expect(
    page.getByText(/Nobody Known of Beckside Dental has no e-mail address/),
  ).toBeVisible()
  // It looks like one that is there; it is said to be another all the same.
  await page.getByLabel('Not “Penhollow Pet Practice”, another').check()
  await page.getByRole('button', { name: 'Bring in 2 clients, 1 contact' }).click()
  await expect(
    page.getByText('2 clients made, 0 filled in, 1 contact put with them.'),
  ).toBeVisible()
  await page.getByRole('link', { name: 'The Penhollow Pet Practice Ltd' }).click()
  await page.getByRole('button', { name: 'Merge the two' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Merge them' }).click()
  await expect(
    page.getByRole('heading', { level: 1, name: 'Penhollow Pet Practice', exact: true }),
  ).toBeVisible()
  await expect(page.getByRole('link', { name: '01539 555 020' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('link', { name: '01539 555 020' })).toHaveCount(0)
  await page.goto('/clients')
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Take out' }).click()
  await page.getByRole('menuitem', { name: 'As vCards' }).click()
  expect((await download).suggestedFilename()).toBe('clients.vcf')
})

test('clients on their board: moved by menu, by keyboard and by mouse; states named by the firm', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clients')
  await page.getByRole('button', { name: 'Board', exact: true }).click()
  await expect(page).toHaveURL(/as=board/)
  const column = (name: string) => page.getByRole('region', { name, exact: true })
  const client = (state: string, name: string) =>
    column(state).getByRole('link', { name, exact: true })
  await expect(client('Joining', 'Hollin Street Vets')).toBeVisible()
  expect(await violations(page)).toEqual([])

  await page.getByRole('button', { name: 'Move Hollin Street Vets' }).click()
  // It stays where it was put, however slowly the list is answered.
  await page.route('**/api/v1/clients', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 2_000))
    await route.continue()
  })
  await page.getByRole('menuitemradio', { name: 'Active' }).click()
  await expect(page.getByText('Hollin Street Vets is in “Active”.')).toBeVisible()
  expect(await client('Active', 'Hollin Street Vets').count()).toBe(1)
  expect(await client('Joining', 'Hollin Street Vets').count()).toBe(0)
  await page.unrouteAll({ behavior: 'wait' })
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(client('Joining', 'Hollin Street Vets')).toBeVisible()

  await client('Joining', 'Hollin Street Vets').press('Alt+Enter')
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('.carried')).toContainText('to Active')
  await page.keyboard.press('Enter')
  await expect(client('Active', 'Hollin Street Vets')).toBeVisible()

  const from = (await client('Leaving', 'Dunmarrow Farm Vets').boundingBox())!
  const to = (await column('Former').boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 40, from.y + 14, { steps: 3 })
  await page.mouse.move(to.x + to.width / 2, to.y + 60, { steps: 8 })
  await expect(page.locator('.carried')).toContainText('to Former')
  await page.mouse.up()
  await expect(client('Former', 'Dunmarrow Farm Vets')).toBeVisible()

  await page.getByRole('button', { name: 'States', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'States of clients' })
  await dialog.getByRole('textbox', { name: 'Name of state 5' }).fill('Gone')
  await dialog.getByRole('button', { name: 'Remove state 3' }).click()
  expect(await violations(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Save' }).click()
  // Eight stand in it: nothing is lost, what was written stays.
  await expect(dialog.getByRole('alert')).toContainText(
    /clients stand in “Active”; move them first/,
  )
  await dialog.getByRole('button', { name: 'Leave it' }).click()
  await page.getByRole('button', { name: 'States', exact: true }).click()
  await dialog.getByRole('textbox', { name: 'Name of state 5' }).fill('Gone')
  await dialog.getByRole('button', { name: 'Add a state' }).click()
  await dialog.getByRole('textbox', { name: 'Name of state 6' }).fill('Asked')
  await choose(dialog.getByRole('combobox', { name: 'New clients begin in' }), 'Asked')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(client('Gone', 'Dunmarrow Farm Vets')).toBeVisible()
  await expect(column('Asked')).toBeVisible()
})

test('a field of clients and one of projects: made, filled, seen; tags put on a client and asked for', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/set-up')
  for (const [name, of] of [
    ['Account number', 'Clients'],
    ['Room', 'Projects'],
  ] as const) {
    await page.getByRole('button', { name: 'Make a field' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel('Name').fill(name)
    await choose(dialog.getByRole('combobox', { name: 'It is said of' }), of)
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByRole('cell', { name, exact: true })).toBeVisible()
  }
  await page.goto('/clients')
  await page.getByRole('link', { name: 'Wrenfield Exotics' }).click()
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Account number').fill('W-17')
  await dialog.getByLabel('Sites').fill('many')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog.getByText('“many” is no number. Write 12 or 1,250.50.')).toBeVisible()
  await dialog.getByLabel('Sites').fill('4')
  await choose(dialog.getByRole('combobox', { name: 'Tags' }), 'several sites')
  await page.keyboard.press('Escape')
  await dialog.getByRole('button', { name: 'Save' }).click()
  const facts = page.getByRole('region', { name: 'What is to know' })
  await expect(facts).toContainText('Account numberW-17')
  await expect(facts).toContainText('Sites4')
  await page.goto('/clients')
  await choose(page.getByRole('combobox', { name: 'Tag', exact: true }), 'several sites')
  await expect(page.getByRole('link', { name: 'Wrenfield Exotics' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Mossgate Veterinary Clinic' })).toHaveCount(0)

  await page.goto('/work')
  await page.getByRole('link', { name: /^Copperbeck, books/ }).click()
  await page.getByRole('button', { name: 'More for this project' }).click()
  await page.getByRole('menuitem', { name: 'Name, client, lead, date…' }).click()
  await page.getByRole('dialog').getByLabel('Room').fill('North')
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await page
    .getByRole('link', { name: 'About it' })
    .or(page.getByRole('button', { name: 'About it' }))
    .click()
  await expect(page.getByText('RoomNorth')).toBeVisible()
})
