import { expect, test, choose } from './house.ts'
import { project } from './work.ts'

test('a state is taken out of the firm’s set: its tasks are asked about, and go where one says', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/set-up')
  await page
    .locator('tr', { has: page.getByLabel('Name of state 3') })
    .getByRole('button', { name: 'Remove' })
    .click()
  await page.getByRole('button', { name: 'Save the states' }).click()
  await expect(
    page.getByRole('alert').filter({ hasText: /stand in “Waiting”; say where they go/ }),
  ).toBeVisible()
  await choose(page.getByLabel(/tasks in “Waiting” go to/), 'Under way')
  await page.getByRole('button', { name: 'Save the states' }).click()
  await expect(page.getByText('The states are saved.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Name of state 3')).toHaveValue('Waiting')
})

test('what takes long says how far it has come, and can be stopped', async ({ as, house }) => {
  const page = await as('manager')
  const { id } = await project(page, house.url, [])
  const checklist = Array.from({ length: 12 }, (_, i) => `Step ${i}`)
  const make = Array.from({ length: 4_000 }, (_, i) => ({
    ...{ title: `Entry ${i}`, projectId: id, checklist },
  }))
  // Large enough that the copy takes longer than it takes to stop it.
  for (let i = 0; i < 4; i++)
    await page.request.post('/api/v1/tasks/edits', {
      data: { edits: [], make },
      headers: { Origin: house.url },
      timeout: 120_000,
    })
  await page.goto(`/work/${id}`)
  await expect(page.getByText('16,000 tasks')).toBeVisible()
  await page.getByRole('button', { name: 'More for this project' }).click()
  await page.getByRole('menuitem', { name: 'Copy…' }).click()
  await page.getByLabel('Name of the copy').fill('Half a copy')
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await expect(page.getByText(/of 16,000/)).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(
    page.getByText('Stopped. Unless it had just ended, nothing of it is kept.'),
  ).toBeVisible()
  const names = async () =>
    ((await (await page.request.get('/api/v1/projects')).json()) as { name: string }[]).map(
      (p) => p.name,
    )
  await expect.poll(names).not.toContain('Half a copy')
})

test('what only asks can be stopped however long it takes, and the page goes on', async ({
  as,
}) => {
  const page = await as('manager')
  // A file that takes long to read: the line never says.
  const asked = page.waitForRequest('**/api/v1/tasks/read')
  await page.route('**/api/v1/tasks/read', () => {})
  await page.goto('/work/bring-in')
  const rows = { name: 'rows.csv', mimeType: 'text/csv', buffer: Buffer.from('Task\nPost\n') }
  await page.locator('input[type=file]').setInputFiles(rows)
  await asked
  await expect(page.getByText('Waiting for an answer.')).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByText('Stopped.', { exact: true })).toBeVisible()
  await page.unroute('**/api/v1/tasks/read')
  await page.locator('input[type=file]').setInputFiles(rows)
  await expect(page.getByText('Waiting for an answer.')).toBeHidden()
  await expect(page.getByRole('button', { name: 'Bring in 1 task' })).toBeVisible()
})

test('a project that is taken back while it is looked at leads back to where one was', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [{ title: 'Stays' }, { title: 'Goes' }])
  const headers = { Origin: house.url }
  const split = await page.request.post(`/api/v1/projects/${id}/split`, {
    data: { name: 'Split off', ids: [tasks[1]!.id] },
    headers,
  })
  const { id: made } = (await split.json()) as { id: number }
  await page.goto(`/work/${id}`)
  await expect(page.getByRole('heading', { name: 'Trial project' })).toBeVisible()
  await page.goto(`/work/${made}`)
  await expect(page.getByRole('heading', { name: 'Split off' })).toBeVisible()
  await page.request.post(`/api/v1/changes/${split.headers()['fernwick-change']}/undo`, { headers })
  await expect(page.getByText('“Split off” is not there any more.')).toBeVisible()
  await expect(page).toHaveURL(/\/work$/)
  await expect(page.getByText('This cannot be shown')).toHaveCount(0)
})
