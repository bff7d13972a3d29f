import { choose, expect, test } from './house.ts'
import { violations } from './work.ts'

test('from an empty folder to a started project, with a colleague who signs in', async ({
  browser,
  empty,
}) => {
  const faults: string[] = []
  const context = await browser.newContext({
    ...{ baseURL: empty, locale: 'en-GB', timezoneId: 'Europe/London' },
  })
  const page = await context.newPage()
  page.on('pageerror', (error) => faults.push(error.message))
  /** What a newcomer types or presses, counted. */
  let deeds = 0
  const fill = async (label: string | RegExp, text: string) => {
    deeds++
    await page.getByLabel(label).fill(text)
  }
  const press = async (name: string | RegExp) => {
    deeds++
    await page.getByRole('button', { name }).click()
  }

  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Begin with Fernwick' })).toBeVisible()
  // Where the browser is from is where it begins; what is usual there stands there already.
  await expect(page.getByLabel('Country')).toHaveValue('United Kingdom')
  await expect(page.getByText('Christmas Day')).toBeVisible()
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme })
    expect(await violations(page), scheme).toEqual([])
  }
  deeds++
  await choose(page.getByLabel('Region'), 'Scotland')
  await expect(page.getByText('St Andrew’s Day')).toBeVisible()
  await fill('Friday', 'long')
  await fill('Name of the firm', 'Sallowfield Books')
  await fill('Your name', 'Ines Corbet')
  await fill('E-mail address', 'ines@sallowfield.example')
  await fill(/^Password/, 'heron-on-the-weir')
  await press('Begin')
  await expect(page.getByText('Hours of a day, such as 7h 30m')).toBeVisible()
  await fill('Friday', '4')
  await expect(page.getByText(/^34h a week/)).toBeVisible()
  await press('Begin')

  await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible()
  await fill(
    'Name and e-mail address, a line each',
    'Tom Barrow, tom@sallowfield.example\nAda Lund',
  )
  await expect(page.getByText('Line 2 has no e-mail address: “Ada Lund”')).toBeVisible()
  await fill('Name and e-mail address, a line each', 'Tom Barrow, tom@sallowfield.example')
  await press('Send 1 invitation')
  const link = page.getByLabel('Link for Tom Barrow')
  await expect(link).toHaveValue(/\/join\?key=/)
  const address = await link.inputValue()
  await fill('Clients, a line each', 'Mill Lane Dental\nBeckside Clinic')
  await press('Make 2 clients')
  await expect(page.getByText('2 clients', { exact: true })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await press('Use Month-end')

  // The template, tried on real dates, and started.
  await expect(page.getByLabel('Name of the template')).toHaveValue('Month-end')
  deeds += 3
  await choose(page.getByLabel('Client', { exact: true }), 'Mill Lane Dental')
  await choose(page.getByLabel('Doer'), 'Tom Barrow')
  await choose(page.getByLabel('Reviewer'), 'Ines Corbet')
  await fill('Name of the project', 'Mill Lane, December')
  await press('Start it now')
  await expect(page.getByRole('heading', { name: 'Mill Lane, December' })).toBeVisible()
  expect(deeds).toBeLessThanOrEqual(22)

  // The colleague takes the invitation up, once, and finds the work.
  const theirs = await (await browser.newContext({ baseURL: empty })).newPage()
  await theirs.goto(address)
  await expect(theirs.getByText('Welcome, Tom Barrow.')).toBeVisible()
  expect(await violations(theirs)).toEqual([])
  await theirs.getByLabel(/^Password/).fill('otter-in-the-brook')
  await theirs.getByRole('button', { name: 'Sign in' }).click()
  await expect(theirs).toHaveURL(/\/today/)
  await expect(theirs.getByText('Enter and check').first()).toBeVisible()
  await theirs.goto('/people')
  await expect(theirs.getByText('Tom Barrow')).toHaveCount(0)
  const late = await (await browser.newContext({ baseURL: empty })).newPage()
  await late.goto(address)
  await expect(late.getByText(/taken up, taken back or has run out/)).toBeVisible()

  await page.goto('/people')
  await expect(page.getByRole('row', { name: /Tom Barrow/ })).toContainText('in')
  await page.getByRole('button', { name: 'More for Tom Barrow' }).click()
  await page.getByRole('menuitem', { name: /^Say that they left/ }).click()
  await page.getByRole('button', { name: 'Say that they left' }).click()
  await expect(page.getByRole('row', { name: /Tom Barrow/ })).toContainText('left')
  await theirs.goto('/today')
  await expect(theirs).toHaveURL(/\/door/)
  await page.goto('/begin')
  await expect(page).toHaveURL(/\/first-steps/)
  expect(faults).toEqual([])
})

test('my own account: a name, a password, and the browsers I am signed in at', async ({
  as,
  browser,
  house,
}) => {
  const page = await as('member')
  const other = await as('member')
  await page.goto('/today')
  await page.getByRole('button', { name: /^Signed in as/ }).click()
  await page.getByRole('menuitem', { name: 'My account' }).click()
  await expect(page.getByText('2 browsers')).toBeVisible()
  await page.getByLabel('My name').fill('Toby Okonjo')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('You are called Toby Okonjo now.')).toBeVisible()
  await page.getByLabel('Password now').fill('wrong-password')
  await page.getByLabel(/^New password/).fill('heron-on-the-weir')
  await page.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByText('That is not your password now.')).toBeVisible()
  await expect(page.getByLabel(/^New password/)).toHaveValue('heron-on-the-weir')
  await page.getByLabel('Password now').fill('lichen-almanac')
  await page.getByRole('button', { name: 'Change it' }).click()
  await expect(page.getByText('Your password is changed')).toBeVisible()
  await expect(page.getByLabel(/^New password/)).toHaveValue('')
  await expect(page.getByText('1 browser', { exact: true })).toBeVisible()
  await other.goto('/today')
  await expect(other).toHaveURL(/\/door/)
  const fresh = await (await browser.newContext({ baseURL: house.url })).newPage()
  await fresh.goto('/door')
  await fresh.getByLabel('E-mail address').fill('Tobias.Okonjo@quillhaven.example')
  await fresh.getByLabel('Password').fill('heron-on-the-weir')
  await fresh.getByRole('button', { name: 'Sign in' }).click()
  await expect(fresh).toHaveURL(/\/today/)
})

test('clients are made from lines, renamed, and taken back; members see them', async ({ as }) => {
  const page = await as('manager')
  await page.goto('/clients')
  await page.getByRole('button', { name: 'Add clients' }).click()
  await page.getByLabel('Clients, a line each').fill('Mill Lane Dental, dentists\nBeckside Clinic')
  await page.getByRole('button', { name: 'Make 2 clients' }).click()
  const row = (name: string) => page.getByRole('row', { name: new RegExp(name) })
  await expect(row('Mill Lane Dental')).toContainText('Mill Lane')
  // The same once more is refused, and what was typed stays.
  await page.getByLabel('Clients, a line each').fill('beckside clinic')
  await page.getByRole('button', { name: 'Make 1 client' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'already' })).toBeVisible()
  await expect(page.getByLabel('Clients, a line each')).toHaveValue('beckside clinic')
  await page.getByRole('link', { name: 'Beckside Clinic', exact: true }).click()
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name of the client').fill('Mill Lane Dental')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog.getByText('There is a client “Mill Lane Dental” already.')).toBeVisible()
  await dialog.getByLabel('Name of the client').fill('Beckside Vets')
  await choose(dialog.getByLabel('Tier'), 'gold')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Beckside Vets' })).toBeVisible()
  await expect(page.getByText('An organisation, gold')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('heading', { name: 'Beckside Clinic' })).toBeVisible()
  await page.goto('/clients')
  await expect(row('Beckside Clinic')).toContainText('silver')

  const member = await as('member')
  await member.goto('/clients')
  await expect(member.getByRole('row', { name: /Mossgate/ })).toBeVisible()
  await expect(member.getByRole('button', { name: /^(Add|Change)/ })).toHaveCount(0)
})
