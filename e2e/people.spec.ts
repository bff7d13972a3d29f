import { choose, expect, test } from './house.ts'
import { violations } from './work.ts'

test('somebody: whom they answer to, who stands in, days off; all of it seen where work is given', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/people')
  await page.getByRole('link', { name: 'Teo Marchetti' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Teo Marchetti' })).toBeVisible()
  // A ring is refused, and named.
  await choose(
    page.getByRole('combobox', { name: 'Who stands in when they are away' }),
    'Runa Halvorsen',
  )
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Teo Marchetti is saved.')).toBeVisible()
  await page.goto('/people/10')
  await choose(page.getByRole('combobox', { name: 'Their manager' }), 'Teo Marchetti')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText(/That would be a ring, where each is the manager/)).toBeVisible()
  // Away today, which the page, the list and whoever gives work say.
  await page.goto('/people/13')
  await page.getByRole('button', { name: 'Add time off' }).click()
  await page.getByLabel('Why, for managers alone').fill('a cold')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('The time off of Teo Marchetti is entered.')).toBeVisible()
  await expect(
    page.getByText(/Teo Marchetti is away until .*; Runa Halvorsen stands in/),
  ).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'a cold' })).toBeVisible()
  await page.goto('/people')
  await expect(page.getByRole('row', { name: /Teo Marchetti/ })).toContainText('away until')
  // Hours of their own, then none of their own.
  await page.goto('/people/13')
  await page.getByLabel('Hours of their own').check()
  await page.getByLabel('Friday').fill('4h')
  await page.getByRole('button', { name: 'Save the hours' }).click()
  await expect(page.getByText(/4h on Fri/)).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.emulateMedia({ colorScheme: 'dark' })
  expect(await violations(page)).toEqual([])
})

test('a member says when they are away; nobody else’s page is theirs', async ({ as }) => {
  const page = await as('member')
  await page.goto('/me')
  await page.getByRole('link', { name: 'My hours and time off' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Tobias Okonjo' })).toBeVisible()
  await expect(page.getByText('Manager: Marisol Quane.')).toBeVisible()
  await page.getByRole('button', { name: 'Add time off' }).click()
  await page.getByRole('button', { name: 'Hours of each' }).click()
  await page.getByLabel('Hours of each day').fill('much')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('Hours, such as 1h 30m')).toBeVisible()
  await page.getByLabel('Hours of each day').fill('1h 30m')
  await page.getByRole('button', { name: 'Add it' }).click()
  const off = page.getByRole('listitem').filter({ hasText: '1h 30m of each day' })
  await expect(off).toBeVisible()
  await off.getByRole('button', { name: /^Take out the time off/ }).click()
  await expect(off).toHaveCount(0)
  await page.goto('/people/4')
  await expect(page.getByText(/for managers, and for whoever it is about/)).toBeVisible()
})

test('somebody leaves: what they hold is shown, goes to two others, and comes back by one undo', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/people/3')
  await page.getByRole('button', { name: 'Say that they left' }).click()
  const dialog = page.getByRole('dialog', { name: 'Tobias Okonjo leaves' })
  await expect(dialog.getByText(/open tasks?/)).toBeVisible()
  await expect(dialog.getByText(/would stay with somebody who left/)).toBeVisible()
  await choose(dialog.getByRole('combobox', { name: 'What they hold goes to' }), 'Marisol Quane')
  await expect(dialog.getByText(/would stay with somebody who left/)).toHaveCount(0)
  await choose(dialog.getByRole('combobox', { name: /open task/ }), 'Wendel Ashgrove')
  expect(await violations(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Say that they left' }).click()
  await expect(page.getByText(/Tobias Okonjo has left\. \d+ things went to others/)).toBeVisible()
  await expect(page.getByText('Tobias Okonjo has left.', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByText('Tobias Okonjo has left.', { exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: 'Say that they left' }).click()
  await expect(dialog.getByText(/open tasks?/)).toBeVisible()
})
