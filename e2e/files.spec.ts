import { expect, test } from './house.ts'
import { project } from './work.ts'

test('files: kinds and sizes checked, pictures shown, no path in a name, no formula in a CSV', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [
    { title: '=HYPERLINK("https://evil.example")', due: '2026-12-01' },
  ])
  await page.goto(`/work/${id}?task=${tasks[0]!.id}`)
  const picker = page.locator('.tasksheet input[type=file]')
  await picker.setInputFiles({
    name: 'run.exe',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('MZ\0\0aaaaaaaaaaaa'),
  })
  await expect(page.getByText(/“run.exe” is of a kind that is not taken here/)).toBeVisible()
  await picker.setInputFiles({
    name: 'page.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('A note'),
  })
  await expect(page.getByText('“page.txt” is added.')).toBeVisible()
  const answer = await page.request.post(
    `/api/v1/tasks/${tasks[0]!.id}/files?name=${encodeURIComponent('../../etc/passwd')}`,
    {
      data: Buffer.from('x'),
      headers: { Origin: house.url },
    },
  )
  expect(answer.status()).toBe(422)
  expect(((await answer.json()) as { detail: string }).detail).toMatch(/holds a path/)
  await page.getByRole('button', { name: 'Close the task' }).click()
  await page.getByRole('button', { name: 'Take out' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByText('As CSV').click(),
  ])
  const text = (
    await (await import('node:fs/promises')).readFile((await download.path())!, 'utf8')
  ).replace('\ufeff', '')
  expect(text).toContain(`"'=HYPERLINK(`)
  expect(download.suggestedFilename()).toBe('Trial project.csv')
})

test('tasks from a file: mapped, looked at, bad lines named, made in a new project, taken back whole', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/bring-in')
  const csv =
    'Task,Stage,Deadline,Who,Hours\nAsk for records,Gather,3/12/2026,Tobias Okonjo,30\n' +
    ',Gather,,,\nPost them,Close,31/2/2026,,\nFile it,Close,4/12/2026,Devika Rao,1h 30m\n'
  await page.setInputFiles('input[type=file]', {
    name: 'from-elsewhere.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(csv),
  })
  await expect(page.getByText('2 lines left out')).toBeVisible()
  await expect(page.getByText('There is no title.')).toBeVisible()
  await expect(page.getByText(/Due: “31\/2\/2026” is not a date/)).toBeVisible()
  await page.getByRole('button', { name: 'Bring in 2 tasks' }).click()
  await expect(page.getByRole('heading', { name: 'from-elsewhere' })).toBeVisible()
  await expect
    .poll(() => page.locator('.gr .name').allTextContents())
    .toEqual(['Ask for records', 'File it'])
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/is not there any more/)).toBeVisible()
})
