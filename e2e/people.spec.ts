import { expect, test, choose } from './house.ts'
import { project, read, view } from './work.ts'

test('two people on one project see what the other does, and lose nothing', async ({
  as,
  house,
}) => {
  const [one, two] = [await as('manager'), await as('member')]
  const { id, tasks } = await project(one, house.url, [{ title: 'Ours' }])
  await one.goto(`/work/${id}`)
  await two.goto(`/work/${id}`)
  await expect(two.getByRole('button', { name: 'Ours', exact: true })).toBeVisible()
  await view(two, 'Board')
  await choose(two.getByLabel('Columns'), 'Priority')
  const [normal, urgent] = ['Normal', 'Urgent'].map((name) => two.getByRole('region', { name }))
  await expect(normal!).toContainText('Ours')
  await one.request.patch(`/api/v1/tasks/${tasks[0]!.id}`, {
    data: { priority: 'urgent' },
    headers: { Origin: house.url },
  })
  await expect(urgent!).toContainText('Ours')
  // Both write at once, different fields: both stand.
  await Promise.all([
    one.request.patch(`/api/v1/tasks/${tasks[0]!.id}`, {
      data: { estimate: 25 },
      headers: { Origin: house.url },
    }),
    two.request.patch(`/api/v1/tasks/${tasks[0]!.id}`, {
      data: { due: '2026-12-01' },
      headers: { Origin: house.url },
    }),
  ])
  expect(await read(one, tasks[0]!.id)).toMatchObject({
    due: '2026-12-01',
    priority: 'urgent',
    estimate: 25,
  })
})

test('without a connection what is typed is kept, and sent when it is back', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [{ title: 'Far away' }])
  await page.goto(`/work/${id}?task=${tasks[0]!.id}`)
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Far away')
  await page.getByRole('textbox', { name: 'Comment' }).fill('Written on the train')
  await page.context().setOffline(true)
  await page.getByRole('textbox', { name: 'Title' }).fill('Far away, but near')
  await page.getByRole('textbox', { name: 'Title' }).blur()
  await page.getByRole('button', { name: 'Comment', exact: true }).click()
  await expect(
    page.getByText('No connection: 2 changes are kept, and sent when it is back'),
  ).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Far away, but near')
  await page.context().setOffline(false)
  await expect(page.getByText(/No connection/)).toHaveCount(0, { timeout: 15_000 })
  await expect(page.locator('.note', { hasText: 'Written on the train' })).toHaveCount(1)
  expect((await read(page, tasks[0]!.id)).title).toBe('Far away, but near')
})

test('what is typed when the session is over is saved when its person is back, in nobody else’s name', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [{ title: 'Half said' }])
  await page.goto(`/work/${id}?task=${tasks[0]!.id}`)
  const title = page.getByRole('textbox', { name: 'Title' })
  await expect(title).toHaveValue('Half said')
  await title.fill('Wholly said')
  await page.request.delete('/api/v1/session', { headers: { Origin: house.url } })
  // Whether it is left or goes with its page, when another question finds the session gone first.
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
  await expect(page).toHaveURL(/\/door\?to=/)
  await page.getByRole('button', { name: /^Member/ }).click()
  await expect(title).toHaveValue('Half said')
  await page.getByRole('button', { name: /Signed in as/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await page.getByRole('button', { name: /^Operations manager/ }).click()
  await expect.poll(async () => (await read(page, tasks[0]!.id)).title).toBe('Wholly said')
})
