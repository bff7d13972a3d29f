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
