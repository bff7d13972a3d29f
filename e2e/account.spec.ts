import { Secret, TOTP } from 'otpauth'
import { choose, expect, NOON, test } from './house.ts'
import { violations } from './work.ts'

const PASSWORD = 'lichen-almanac'
const codeAt = (secret: string, at: number) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: at })

test('a second device: set up by what it reads, asked for at the door, taken off', async ({
  as,
  house,
}) => {
  const page = await as('member')
  await page.goto('/me')
  const device = page.getByRole('region', { name: 'Second device' })
  await device.getByLabel('Your password, to be sure').fill(PASSWORD)
  await device.getByRole('button', { name: 'Set up a second device' }).click()
  await expect(device.getByRole('img', { name: 'What the device reads' })).toBeVisible()
  const secret = (await device.locator('.secret').innerText()).replaceAll(' ', '')
  expect(await violations(page)).toEqual([])
  await device.getByLabel('Code it shows now').fill('000000')
  await device.getByRole('button', { name: 'Use it from now on' }).click()
  await expect(device.getByText(/That is not the code it shows now/)).toBeVisible()
  await device.getByLabel('Code it shows now').fill(codeAt(secret, Date.parse(NOON)))
  await device.getByRole('button', { name: 'Use it from now on' }).click()
  const paper = device.getByRole('listitem')
  await expect(paper).toHaveCount(10)
  const onPaper = await paper.first().innerText()
  await device.getByRole('button', { name: 'Done, they are kept' }).click()
  // At the door the password alone is not enough; the code is asked for in place.
  await page.getByRole('button', { name: /Tobias/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  const signIn = async (code?: string) => {
    if (code) await page.getByLabel(/Code of your second device/).fill(code)
    await page.getByRole('button', { name: 'Sign in', exact: true }).click()
  }
  await page.getByLabel('E-mail address').fill('tobias.okonjo@quillhaven.example')
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD)
  await signIn()
  await expect(page.getByLabel(/Code of your second device/)).toBeVisible()
  await signIn('123456')
  await expect(page.getByText(/That code is not right/)).toBeVisible()
  const later = Date.parse(NOON) + 60_000
  await house.clock(new Date(later).toISOString())
  await signIn(codeAt(secret, later))
  await expect(page).not.toHaveURL(/door/)
  await page.goto('/me')
  await expect(device.getByText('10 codes on paper left')).toBeVisible()
  expect(onPaper).toMatch(/^[0-9a-f]{5}(-[0-9a-f]{5}){3}$/)
  await device.getByLabel('Your password, to be sure').fill(PASSWORD)
  await device.getByRole('button', { name: 'Take it off' }).click()
  await expect(device.getByRole('button', { name: 'Set up a second device' })).toBeVisible()
})

test('the firm’s page: its facts saved, its place brought, its mail server tried by the owner', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/people/firm')
  await page.getByLabel('Friday', { exact: true }).fill('much')
  await page.getByRole('button', { name: 'Save' }).first().click()
  await expect(page.getByText('Hours of a day, such as 7h 30m')).toBeVisible()
  await page.getByLabel('Friday', { exact: true }).fill('4h')
  await page.getByLabel('Name of the firm').fill('Quillhaven and Daughters')
  await page.getByRole('button', { name: 'Save' }).first().click()
  await expect(page.getByText('The firm is saved')).toBeVisible()
  await expect(page.getByText('An owner names it.')).toBeVisible()
  await page.request.post('/api/v1/session', {
    data: { email: 'casper.vell@quillhaven.example', password: PASSWORD },
    headers: { Origin: house.url },
  })
  await page.goto('/people/firm')
  await expect(page.getByLabel('Name of the firm')).toHaveValue('Quillhaven and Daughters')
  await page.getByLabel('Mail server').fill('127.0.0.1')
  await page.getByLabel('Port').fill('9')
  await page.getByLabel('Mails are from').fill('post@quillhaven.example')
  await page
    .locator('form', { hasText: 'Mail server' })
    .getByRole('button', { name: 'Save' })
    .click()
  await expect(page.getByText('Mail goes by this server from now on.')).toBeVisible()
  await page.getByRole('button', { name: 'Send a test' }).click()
  await expect(page.getByText(/It was not taken. The mail server says:/)).toBeVisible()
  await page.getByRole('button', { name: 'Take it out' }).click()
  await expect(page.getByText('Mail is kept here again')).toBeVisible()
  // With an address of its own, the door offers a link to who forgot their password.
  await page.getByLabel(/Address that people open/).fill(house.url)
  await page
    .locator('form', { hasText: 'How it is reached' })
    .getByRole('button', { name: 'Save' })
    .click()
  await expect(page.getByText('How the firm is reached is saved.')).toBeVisible()
  await page.request.delete('/api/v1/session', { headers: { Origin: house.url } })
  await page.goto('/door')
  await page.getByRole('link', { name: 'My password is forgotten' }).click()
  // The door asks for an address too: only on the page that comes is this one typed.
  await expect(page.getByRole('heading', { name: 'A forgotten password' })).toBeVisible()
  await page.getByLabel('E-mail address').fill('casper.vell@quillhaven.example')
  await page.getByRole('button', { name: 'Send me a link' }).click()
  await expect(page.getByText(/a mail is on its way/)).toBeVisible()
})

test('a token: made for a program, shown once, used, stopped', async ({ as, house }) => {
  const page = await as('manager')
  await page.goto('/me')
  await page.getByRole('button', { name: 'Make a token' }).click()
  const dialog = page.getByRole('dialog', { name: 'A token for a program' })
  await dialog.getByLabel('What the program is called').fill('Web form')
  await dialog.getByLabel('changes work').check()
  await dialog.getByRole('button', { name: 'Make it' }).click()
  const secret = await page.getByText(/^fernwick_/).innerText()
  const ask = () =>
    fetch(`${house.url}/api/v1/tasks?limit=1`, { headers: { Authorization: `Bearer ${secret}` } })
  expect((await ask()).status).toBe(200)
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Done, it is kept' }).click()
  await expect(page.getByText(secret)).toHaveCount(0)
  await expect(page.getByText('reads what I see; changes work')).toBeVisible()
  await page.getByRole('button', { name: 'Stop Web form' }).click()
  await expect(page.getByText('“Web form” opens nothing any more.')).toBeVisible()
  expect((await ask()).status).toBe(401)
})

test('my photo and my ways: shown beside my name, dates and colours as I like them', async ({
  as,
}) => {
  const page = await as('member')
  await page.goto('/me')
  const drop = (name: string, bytes: Buffer) =>
    page.locator('input[type=file]').setInputFiles({ name, mimeType: 'image/png', buffer: bytes })
  await drop('me.png', Buffer.from('no picture'))
  await expect(page.getByText(/This is no picture that is taken here/)).toBeVisible()
  const pixel =
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='
  await drop('me.png', Buffer.from(pixel, 'base64'))
  await expect(page.getByRole('img', { name: 'Tobias Okonjo' }).first()).toHaveAttribute(
    'src',
    /photo/,
  )
  await choose(page.getByRole('combobox', { name: 'Times of day are written' }), '3:00 pm')
  await choose(page.getByRole('combobox', { name: 'Colours' }), 'dark')
  await page.getByRole('button', { name: 'Save it' }).click()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await expect(page.getByText(/since .* (am|pm)/).first()).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Take my photo off' }).click()
  await expect(page.getByRole('button', { name: 'Take my photo off' })).toHaveCount(0)
})
