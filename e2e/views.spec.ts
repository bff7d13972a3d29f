import AxeBuilder from '@axe-core/playwright'
import { expect, test, VIEWS } from './house.ts'

/** The views in two halves: all of them take long on a slow machine. */
const HALVES = [VIEWS.slice(0, VIEWS.length / 2), VIEWS.slice(VIEWS.length / 2)]
const LOOKS = HALVES.flatMap((views, half) => [
  { scheme: 'light', half, views } as const,
  { scheme: 'dark', half, views } as const,
])
for (const { scheme, half, views } of LOOKS)
  test(`no accessibility violations (axe-core, WCAG 2.2 AA), ${scheme}, half ${half + 1}`, async ({
    as,
  }) => {
    const page = await as('manager')
    await page.emulateMedia({ colorScheme: scheme })
    const found: string[] = []
    for (const view of views) {
      await page.goto(view)
      await expect(page.locator('h1, .name').first()).toBeVisible()
      await expect(page.getByText('Reading…')).toHaveCount(0)
      const { violations } = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
        .analyze()
      found.push(
        ...violations.map(
          (v) =>
            `${view}: ${v.id} ${v.nodes[0]?.target.join(' ')} ${v.nodes[0]?.failureSummary?.split('\n')[1] ?? ''}`,
        ),
      )
    }
    expect(found).toEqual([])
  })

test('the door: one click, password, wrong password, and back to where one wanted to go', async ({
  browser,
  house,
}) => {
  const page = await (await browser.newContext({ baseURL: house.url })).newPage()
  await page.goto('/clockwork/rules')
  await expect(page).toHaveURL(/\/door\?to=/)
  await page.getByLabel('E-mail address').fill('imogen.achterberg@quillhaven.example')
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(
    page.getByRole('alert').filter({ hasText: 'That address and password do not go together.' }),
  ).toBeVisible()
  await expect(page.getByLabel('E-mail address')).toHaveValue(
    'imogen.achterberg@quillhaven.example',
  )
  await page.getByLabel('Password').fill('lichen-almanac')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page).toHaveURL(/\/clockwork\/rules/)
  await page.getByRole('button', { name: /Signed in as/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await page.getByRole('button', { name: /^Contractor/ }).click()
  await expect(page.getByRole('link', { name: 'Clockwork' })).toHaveCount(0)
  await page.goto('/clockwork/rules')
  await expect(
    page.getByRole('alert').filter({ hasText: 'Guests may not see this: “Rules”' }),
  ).toBeVisible()
})

test('a session that is over leads to the door, once, and nothing fails on the way', async ({
  as,
  house,
}) => {
  const [page, other] = [await as('manager'), await as('member')]
  const failed: string[] = []
  page.on('pageerror', (error) => failed.push(error.message))
  await page.goto('/clockwork/log')
  await expect(page.getByText('why').first()).toBeVisible()
  const headers = { Origin: house.url }
  await page.request.delete('/api/v1/session', { headers })
  const asked: string[] = []
  page.on('request', (request) => asked.push(new URL(request.url()).pathname))
  await other.request.post('/api/v1/tasks', { data: { title: 'Told to nobody' }, headers })
  await expect(page).toHaveURL(/\/door\?to=/)
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect(failed).toEqual([])
  expect(asked.filter((path) => path === '/api/v1/me').length).toBeLessThan(3)
})

test('two people on one task: both edits stand, or the second chooses', async ({ as, house }) => {
  const [one, two] = [await as('manager'), await as('member')]
  const made = await one.request.post('/api/v1/tasks', {
    data: { title: 'Shared work', assignees: [1, 3], due: '2027-03-01' },
    headers: { Origin: house.url },
  })
  const { id } = (await made.json()) as { id: number }
  await one.goto(`/today?task=${id}`)
  await two.goto(`/today?task=${id}`)
  const title = (page: typeof one) => page.getByRole('textbox', { name: 'Title' })
  // Two is typing while one saves another field: both stand.
  await title(two).fill('Shared work, by two')
  await one.getByRole('textbox', { name: 'Description' }).fill('By one')
  await one.getByRole('textbox', { name: 'Description' }).blur()
  await expect(two.getByRole('textbox', { name: 'Description' })).toHaveText('By one')
  await title(two).blur()
  await expect(title(one)).toHaveValue('Shared work, by two')
  // The same field: the second sees both and chooses.
  await title(two).fill('Two again')
  await title(one).fill('One was first')
  await title(one).blur()
  await one.waitForTimeout(500)
  await title(two).blur()
  const dialog = two.getByRole('alertdialog')
  await expect(dialog).toContainText('Two again')
  await expect(dialog).toContainText('One was first')
  await dialog.getByRole('button', { name: 'Keep mine' }).click()
  await expect(title(one)).toHaveValue('Two again')
})

test('a task dropped on a day of the ribbon moves there; everything of the sheet is saved', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const me = (await (await page.request.get('/api/v1/me')).json()) as { today: string }
  const made = await page.request.post('/api/v1/tasks', {
    data: { title: 'Drop me', assignees: [1], due: me.today },
    headers: { Origin: house.url },
  })
  const { id } = (await made.json()) as { id: number }
  await page.goto('/today')
  await page.locator('.row', { hasText: 'Drop me' }).dragTo(page.locator('.day').nth(9))
  await expect(page.getByText(/“Drop me” moved to/)).toBeVisible()
  await page
    .locator('.row', { hasText: 'Drop me' })
    .getByRole('button', { name: 'Drop me', exact: true })
    .click()
  await page.getByLabel('Add to the checklist').fill('First step')
  await page.getByLabel('Add to the checklist').press('Enter')
  await page.getByLabel('First step', { exact: true }).check()
  await page.getByRole('textbox', { name: 'Comment' }).fill('A word <b>about</b> it')
  await page.getByRole('button', { name: 'Comment', exact: true }).click()
  await expect(page.getByText('A word <b>about</b> it')).toBeVisible()
  await page.getByRole('tab', { name: 'Journal' }).click()
  await page.getByRole('button', { name: 'Reword First step' }).click()
  await page.getByLabel('Wording of First step').fill('First step, in other words')
  await page.getByLabel('Wording of First step').press('Enter')
  await expect(
    page.getByRole('button', { name: 'Reword First step, in other words' }),
  ).toBeVisible()
  await expect(page.getByText('ticked a checklist item')).toBeVisible()
  await expect(page.getByText(/^due .* → /)).toBeVisible()
  const after = (await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as {
    checklist: { done: boolean }[]
    due: string
  }
  expect(after.checklist.map((i) => i.done)).toEqual([true])
  expect(after.due > me.today).toBe(true)
})

test('a file that is no CSV is refused where it was chosen; a narrow screen has no sideways scroll', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/templates/bring-in')
  await page.setInputFiles('input[type=file]', {
    name: 'x.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([0x89, 0x50, 0, 1, 2]),
  })
  await expect(page.getByRole('alert').filter({ hasText: 'This is not a CSV file' })).toBeVisible()
  await page.setViewportSize({ width: 390, height: 844 })
  for (const view of VIEWS) {
    await page.goto(view)
    await expect(page.locator('h1, .name').first()).toBeVisible()
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth),
      view,
    ).toBeLessThanOrEqual(390)
  }
})

test('a task becomes a series; leaving something unsaved asks first', async ({ as, house }) => {
  const page = await as('manager')
  const made = await page.request.post('/api/v1/tasks', {
    data: { title: 'Read the meter', assignees: [1], checklist: ['Note it down'], estimate: 15 },
    headers: { Origin: house.url },
  })
  const { id } = (await made.json()) as { id: number }
  await page.goto(`/today?task=${id}`)
  await page.getByRole('link', { name: 'Make a series of it' }).click()
  await expect(page.getByLabel('Title of each task')).toHaveValue('Read the meter')
  await expect(page.getByLabel('Checklist, a line each')).toHaveValue('Note it down')
  await page.getByRole('button', { name: /^Which working day/ }).click()
  await page.getByRole('menuitemradio', { name: 'last', exact: true }).click()
  await expect(page.locator('aside .date').first()).toContainText('Mon 30 Nov')
  page.on('dialog', (dialog) => void dialog.dismiss())
  await page.getByRole('link', { name: 'Rules' }).click()
  await expect(page).toHaveURL(/series\/new/)
  await page.getByRole('button', { name: 'Make the series' }).click()
  await expect(page.getByText('“Read the meter” is saved; next Mon 30 Nov.')).toBeVisible()
  await page.getByRole('link', { name: 'Rules' }).click()
  await expect(page).toHaveURL(/clockwork\/rules/)
  // A rule that cannot be read by RFC 5545 is refused where it is typed, and what was typed stays.
  await page.goto('/clockwork/series/new')
  await page.getByRole('button', { name: /^Kind of schedule/ }).click()
  await page.getByRole('menuitemradio', { name: 'by a rule of RFC 5545' }).click()
  await page.getByLabel('Rule', { exact: true }).fill('FREQ=MONTHLY;BYMONTHDAY=32')
  await page.getByLabel('Rule', { exact: true }).blur()
  await expect(
    page.getByRole('alert').filter({ hasText: 'BYMONTHDAY=32 is out of place' }),
  ).toBeVisible()
  await expect(page.getByLabel('Rule', { exact: true })).toHaveValue('FREQ=MONTHLY;BYMONTHDAY=32')
})
