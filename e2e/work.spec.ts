import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, test, choose, setAll } from './house.ts'

interface Made {
  id: number
  due: string | null
  start: string | null
  title: string
  stateName: string
  priority: string
}

/** A project with tasks of its own, so that a test knows exactly what is there. */
async function project(
  page: Page,
  url: string,
  tasks: object[],
  phases = ['Gather', 'Close'],
): Promise<{ id: number; tasks: Made[]; phases: { id: number }[] }> {
  const headers = { Origin: url }
  const made = (await (
    await page.request.post('/api/v1/projects', {
      data: { name: 'Trial project', clientId: 1, phases },
      headers,
    })
  ).json()) as {
    id: number
    phases: { id: number }[]
  }
  const out: Made[] = []
  for (const task of tasks)
    out.push(
      (await (
        await page.request.post('/api/v1/tasks', { data: { projectId: made.id, ...task }, headers })
      ).json()) as Made,
    )
  return { ...made, tasks: out }
}
const read = async (page: Page, id: number) =>
  (await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as Made & {
    tags: { name: string }[]
    assignees: { name: string }[]
  }
const view = (page: Page, name: string) =>
  page
    .getByRole('group', { name: 'View', exact: true })
    .getByRole('button', { name, exact: true })
    .click()
const violations = async (page: Page) =>
  (
    await new AxeBuilder({ page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      .analyze()
  ).violations.map(
    (v) =>
      `${v.id} ${v.nodes[0]?.target.join(' ')} ${v.nodes[0]?.failureSummary?.split('\n')[1] ?? ''}`,
  )

test('a board: a slip is dragged, moved by keyboard, its checklist ticked in place; columns count', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [
    { title: 'Ring the bank', estimate: 30, checklist: ['Number', 'Name'] },
    { title: 'Write it down', estimate: 45 },
  ])
  await page.goto(`/work/${id}`)
  await view(page, 'Board')
  await choose(page.getByLabel('Columns'), 'State')
  const column = (name: string) => page.getByRole('region', { name, exact: true })
  await expect(column('Not started')).toContainText('2 tasks · 1h 15m')
  await column('Not started')
    .getByRole('listitem')
    .filter({ hasText: 'Ring the bank' })
    .dragTo(column('Waiting'))
  await expect(column('Waiting')).toContainText('Ring the bank')
  await expect(page.getByText('“Ring the bank” is under Waiting now.')).toBeVisible()
  expect((await read(page, tasks[0]!.id)).stateName).toBe('Waiting')
  await column('Waiting').getByRole('button', { name: '0 of 2 ticked' }).click()
  await column('Waiting').getByLabel('Number').check()
  await expect(column('Waiting').getByRole('button', { name: '1 of 2 ticked' })).toBeVisible()
  const slip = column('Not started').getByRole('button', { name: 'Write it down', exact: true })
  await slip.focus()
  await slip.press('Alt+ArrowRight')
  await expect(column('Under way')).toContainText('Write it down')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(column('Not started')).toContainText('Write it down')
  // Dropped above another, it lies above it.
  await column('Not started')
    .getByRole('listitem')
    .filter({ hasText: 'Write it down' })
    .dragTo(column('Waiting'), { targetPosition: { x: 60, y: 44 } })
  await expect
    .poll(() => column('Waiting').locator('.name').allTextContents())
    .toEqual(['Write it down', 'Ring the bank'])
  expect(await violations(page)).toEqual([])
})

test('a calendar: dragged to another day, lengthened by its edge, made on a day', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [
    { title: 'Count the stock', due: '2026-11-25' },
  ])
  await page.goto(`/work/${id}`)
  await view(page, 'Calendar')
  await page.getByRole('button', { name: 'Week', exact: true }).click()
  const bar = page.locator(`.ent[data-task="${tasks[0]!.id}"]`)
  await expect(bar).toBeVisible()
  const box = (await bar.boundingBox())!
  const drag = async (x: number, y: number, by: number) => {
    await page.mouse.move(x, y)
    await page.mouse.down()
    await page.mouse.move(x + by / 2, y + 4, { steps: 4 })
    await page.mouse.move(x + by, y + 4, { steps: 4 })
    await page.mouse.up()
  }
  const day = box.width + 6
  await drag(box.x + 40, box.y + 10, day)
  await expect(page.getByText('“Count the stock” moved to Thu 26 Nov.')).toBeVisible()
  const moved = (await bar.boundingBox())!
  await drag(moved.x + moved.width - 1, moved.y + 10, day)
  await expect(page.getByText('“Count the stock” is from Thu 26 Nov to Fri 27 Nov.')).toBeVisible()
  expect(await read(page, tasks[0]!.id)).toMatchObject({ start: '2026-11-26', due: '2026-11-27' })
  await page.getByRole('button', { name: 'Add a task due Tue 24 Nov 2026' }).click()
  await page.getByLabel('What is to be done').fill('Ring the clinic')
  await page.getByLabel('What is to be done').press('Enter')
  await expect(page.locator('.ent', { hasText: 'Ring the clinic' })).toBeVisible()
  const made = page.locator('.ent', { hasText: 'Ring the clinic' }).getByRole('button')
  await made.focus()
  await made.press('Alt+ArrowRight')
  await expect(page.getByText('“Ring the clinic” moved to Wed 25 Nov.')).toBeVisible()
  expect(await violations(page)).toEqual([])
})

test('a timeline: moved and stretched by the pointer, on every scale', async ({ as, house }) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [
    { title: 'Draft the letter', start: '2026-11-24', due: '2026-11-26' },
  ])
  await page.goto(`/work/${id}`)
  await view(page, 'Timeline')
  await page.getByRole('button', { name: 'Days', exact: true }).click()
  const bar = page.locator(`.tb[data-task="${tasks[0]!.id}"]`)
  await expect(bar).toBeVisible()
  await page.waitForTimeout(300)
  const px = 40
  let box = (await bar.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 + 2 * px, box.y + 8, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByText('“Draft the letter” is from Thu 26 Nov to Sat 28 Nov.')).toBeVisible()
  box = (await bar.boundingBox())!
  await page.mouse.move(box.x + 1, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + 1 - px, box.y + 8, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByText('“Draft the letter” is from Wed 25 Nov to Sat 28 Nov.')).toBeVisible()
  expect(await read(page, tasks[0]!.id)).toMatchObject({ start: '2026-11-25', due: '2026-11-28' })
  for (const scale of ['Weeks', 'Months', 'Quarters']) {
    await page.getByRole('button', { name: scale, exact: true }).click()
    await expect(bar).toBeVisible()
  }
  expect(await violations(page)).toEqual([])
})

test('a list: added to a phase, dragged, put in order, changed many at once, and taken back', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks, phases } = await project(page, house.url, [])
  void tasks
  for (const title of ['One', 'Two', 'Three'])
    await page.request.post('/api/v1/tasks', {
      data: { title, projectId: id, phaseId: phases[0]!.id, due: '2026-11-20' },
      headers: { Origin: house.url },
    })
  await page.goto(`/work/${id}`)
  const names = () => page.locator('.gr .name').allTextContents()
  await expect.poll(names).toEqual(['One', 'Two', 'Three'])
  await page.getByLabel('Add a task to Close').fill('Four')
  await page.getByLabel('Add a task to Close').press('Enter')
  await expect.poll(names).toEqual(['One', 'Two', 'Three', 'Four'])
  const row = (title: string) =>
    page.locator('.line', {
      has: page.locator('.gr', { has: page.getByRole('button', { name: title, exact: true }) }),
    })
  // By keyboard past the row below, and back; then dragged.
  await page.getByRole('button', { name: 'One', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(names).toEqual(['Two', 'One', 'Three', 'Four'])
  await page.getByRole('button', { name: 'One', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(names).toEqual(['One', 'Two', 'Three', 'Four'])
  await row('Three').dragTo(row('One'))
  await expect.poll(names).toEqual(['Three', 'One', 'Two', 'Four'])
  await row('One').dragTo(row('Four'))
  await expect.poll(names).toEqual(['Three', 'Two', 'One', 'Four'])
  await expect(page.getByText('“One” is under Close now.')).toBeVisible()

  // By keyboard: to a field of the row, and set it.
  await page.getByRole('button', { name: 'Three', exact: true }).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await page.keyboard.type('fri 3pm')
  await page.keyboard.press('Enter')
  await expect(row('Three')).toContainText('Fri 27 Nov, 15:00')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(row('Three')).toContainText('Fri 20 Nov')

  // Mark a run of rows, then everything.
  await page.getByRole('button', { name: 'Three', exact: true }).focus()
  await page.keyboard.press('x')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+X')
  await expect(page.getByText('2 tasks marked')).toBeVisible()
  await page.getByRole('button', { name: 'Mark all 4' }).click()
  await expect(page.getByText('4 tasks marked')).toBeVisible()
  await setAll(page, 'Priority')
  await page.getByRole('option', { name: 'Urgent' }).click()
  await expect(page.getByText('4 tasks changed.')).toBeVisible()
  await page.getByLabel('Working days to move by').fill('3')
  await page.getByRole('button', { name: 'On ▸' }).click()
  await expect(page.getByText('3 tasks moved on by 3 working days.')).toBeVisible()
  await expect(row('Three')).toContainText('Wed 25 Nov')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(row('Three')).toContainText('Fri 20 Nov')
  await page.getByRole('button', { name: 'Slipped to today' }).click()
  await expect(page.getByText('3 slipped tasks brought to today.')).toBeVisible()
  // Later, from the journal.
  await page.goto('/work/journal')
  await page
    .locator('tr', { hasText: /priority Normal → Urgent/ })
    .getByRole('button', { name: /^Undo/ })
    .first()
    .click()
  await expect(page.getByText(/Taken back: 4 things as before/)).toBeVisible()
})

test('a table: from cell to cell by keyboard, typed into, pasted over from a spreadsheet with new rows', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, [{ title: 'First' }, { title: 'Second' }])
  await page.goto(`/work/${id}`)
  await choose(page.getByLabel('Groups'), 'none')
  await view(page, 'Table')
  const cell = (row: number, at: number) =>
    page.locator('.gr').nth(row).locator(`[data-at="${at}"]`)
  await cell(0, 0).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  // The due date, as people type it.
  await page.keyboard.type('3 dec')
  await page.keyboard.press('Enter')
  await expect(cell(0, 2)).toContainText('Thu 3 Dec')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.type('1h 30m')
  await page.keyboard.press('Enter')
  await expect(cell(0, 3)).toContainText('1h 30m')
  await cell(0, 2).focus()
  await page.keyboard.type('fri 3pm')
  await page.keyboard.press('Enter')
  await expect(cell(0, 2)).toContainText('Fri 27 Nov, 15:00')
  await cell(0, 2).focus()
  await page.keyboard.type('31 feb')
  await page.keyboard.press('Enter')
  await expect(
    page.getByText('“31 feb” is not a date, such as 3 Dec, fri or 3/12/2026.'),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  const paste = (text: string) =>
    page.evaluate((words) => {
      const data = new DataTransfer()
      data.setData('text/plain', words)
      document.activeElement!.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      )
    }, text)
  await cell(1, 0).focus()
  await paste('Second, again\tTobias Okonjo\t4/12/2026\t45\nThird\tNobody at all\t\t')
  await expect(page.getByText(/Row 2, On it: “Nobody at all” is not one of/)).toBeVisible()
  await cell(1, 0).focus()
  await paste(
    'Second, again\tTobias Okonjo\t4/12/2026\t45\nThird\tImogen Achterberg; Devika Rao\t\t90\n"Fourth, with a\ttab"',
  )
  await expect(page.getByText('3 tasks pasted over.')).toBeVisible()
  await expect
    .poll(() => page.locator('.gr .name').allTextContents())
    .toEqual(['First', 'Second, again', 'Third', 'Fourth, with a\ttab'])
  expect(await read(page, tasks[1]!.id)).toMatchObject({
    due: '2026-12-04',
    assignees: [{ name: 'Tobias Okonjo' }],
  })
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(() => page.locator('.gr .name').allTextContents()).toEqual(['First', 'Second'])
  expect(await violations(page)).toEqual([])
})

test('a filter, kept as a view, shared, opened by somebody else; a field of it goes', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await page.getByRole('button', { name: /^Filter/ }).click()
  await page.getByRole('button', { name: 'Add a test' }).click()
  await choose(page.getByLabel('Field').nth(1), 'Records')
  await page.getByRole('button', { name: 'Value: choose' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'All here' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByText(/^\d+ tasks$/)).toBeVisible()
  await page.getByRole('button', { name: 'Keep as…' }).click()
  await page.getByLabel('Name of the view').fill('All records are here')
  await page.getByLabel('Everybody may open it').check()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'All records are here' })).toBeVisible()
  const address = page.url()
  await page.getByRole('button', { name: 'More for the view' }).click()
  await page.getByRole('menuitem', { name: 'Rename…' }).click()
  await page.getByLabel('Name of the view').fill('Everything is here')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Everything is here' })).toBeVisible()
  const other = await as('member')
  await other.goto(address)
  await expect(other.getByText('shared by Imogen Achterberg')).toBeVisible()
  await other.getByRole('button', { name: 'More for the view' }).click()
  await expect(other.getByRole('menuitem', { name: 'Remove' })).toHaveCount(0)
})

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

test('the find box: a line becomes a task, words find it, a number opens it, marked tasks are changed', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/work/all')
  await expect(page.locator('.gr').first()).toBeVisible()
  await page.keyboard.press('n')
  const box = page.locator('.finds input')
  await box.fill('Chase statements Mossgate fri 3pm 30m urgent')
  await expect(page.getByRole('option', { name: /Chase statements/ })).toContainText(
    'Mossgate Veterinary Clinic · due Fri 27 Nov, 15:00 · 30m · Urgent · on you',
  )
  expect(await violations(page)).toEqual([])
  await box.press('Enter')
  await expect(page.getByText(/Noted as #\d+: “Chase statements”/)).toBeVisible()
  await page.keyboard.press('/')
  await page.locator('.finds input').fill('chase stateme')
  await page.getByRole('option').filter({ hasText: 'Chase statements' }).first().click()
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Chase statements')
  const id = Number(new URL(page.url()).searchParams.get('task'))
  const made = await read(page, id)
  expect(made).toMatchObject({
    due: '2026-11-27',
    dueTime: '15:00',
    estimate: 30,
    priority: 'urgent',
    client: { short: 'Mossgate' },
  } as Record<string, unknown>)
  await page.getByRole('button', { name: 'Close the task' }).click()
  await page.keyboard.press('Control+k')
  await page.locator('.finds input').fill(`#${id}`)
  await expect(page.locator('.finds [role=option]').first()).toContainText('Chase statements')
  await page.keyboard.press('Escape')
  await page.locator('.gr .name').first().focus()
  await page.keyboard.press('x')
  await page.keyboard.press('/')
  await page.locator('.finds input').fill('due 24 dec 3pm')
  await expect(page.getByRole('option', { name: /Due: Thu 24 Dec, 15:00/ })).toContainText(
    '1 task marked',
  )
  await page.locator('.finds input').press('Enter')
  await expect(page.getByText('1 task changed. Due: Thu 24 Dec, 15:00.')).toBeVisible()
  void house
})

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
  await expect(page.getByRole('alert')).toContainText(/stand in “Waiting”; say where they go/)
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
