import { expect, test, choose, setAll } from './house.ts'

test('a task from end to end: its parts, people, fields, files; copied, merged, archived', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const headers = { Origin: house.url }
  const post = async <T>(path: string, data: object) =>
    (await (await page.request.post(`/api/v1${path}`, { data, headers })).json()) as T
  const { id: project } = await post<{ id: number }>('/projects', {
    name: 'From end to end',
    clientId: 1,
    phases: ['Only'],
  })
  const { id } = await post<{ id: number }>('/tasks', {
    title: 'Whole work',
    projectId: project,
    due: '2026-11-27',
  })
  await page.goto(`/work/${project}?task=${id}`)
  const sheet = page.locator('.tasksheet')

  // Rich text: what is typed is kept, with its form and whom it mentions.
  const description = sheet.getByRole('textbox', { name: 'Description' })
  await description.click()
  await page.keyboard.type('First ask ')
  await page.keyboard.type('@Tob')
  await page.locator('.ats').getByRole('option', { name: 'Tobias Okonjo' }).click()
  await page.keyboard.type('.')
  await sheet.getByRole('textbox', { name: 'Title' }).click()
  await expect(sheet.locator('.mention')).toHaveText('@Tobias Okonjo')
  const member = await as('member')
  await member.goto('/notices')
  await expect(member.getByText('Imogen Achterberg mentioned you on “Whole work”')).toBeVisible()

  // Two people, each with a part; all must finish. Chosen in haste over a slow line, both are kept.
  let slow = true
  await page.route('**/api/v1/tasks/*', async (route) => {
    if (slow && route.request().method() === 'PATCH') {
      slow = false
      await new Promise((done) => setTimeout(done, 900))
    }
    await route.continue()
  })
  await choose(sheet.getByLabel('On it', { exact: true }), 'Imogen Achterberg')
  await choose(sheet.getByLabel('On it', { exact: true }), 'Tobias Okonjo')
  await page.keyboard.press('Escape')
  await sheet.getByLabel('Estimate of Imogen Achterberg').fill('1h')
  await sheet.getByLabel('Estimate of Imogen Achterberg').blur()
  await sheet.getByLabel('Estimate of Tobias Okonjo').fill('30m')
  await sheet.getByLabel('Estimate of Tobias Okonjo').blur()
  await expect(sheet.getByLabel('Estimate', { exact: true })).toHaveValue('1h 30m')
  await sheet.getByRole('button', { name: /^Done when/ }).click()
  await page.getByRole('menuitemradio', { name: 'done when all are' }).click()
  await sheet.getByRole('button', { name: 'My part is done' }).click()
  await expect(sheet.getByText('Your part is done.')).toBeVisible()
  await member.goto(`/work/${project}`)
  await member.getByRole('checkbox', { name: 'Done: Whole work' }).click()
  await expect(member.getByText('“Whole work” is done.')).toBeVisible()
  await expect(sheet.getByRole('button', { name: 'State: Done' })).toBeVisible()
  await sheet.getByRole('button', { name: 'State: Done' }).click()
  await page.getByRole('menuitemradio', { name: 'Under way', exact: true }).click()

  // Subtasks that lead it, a tag and a field, a step of the checklist.
  await sheet.getByLabel('Add a subtask').fill('A part')
  await sheet.getByLabel('Add a subtask').press('Enter')
  await expect(sheet.getByText('0 of 1 done')).toBeVisible()
  // A line of the checklist that says a day is offered as a subtask.
  await sheet.getByLabel('Add to the checklist').fill('Ring the vet fri 15m')
  await expect(sheet.getByText('due Fri 27 Nov · 15m: a step has neither')).toBeVisible()
  await sheet.getByRole('button', { name: 'Make it a subtask' }).click()
  await expect(sheet.getByText('0 of 2 done')).toBeVisible()
  await expect(sheet.getByRole('button', { name: 'Ring the vet' })).toBeVisible()
  await sheet.getByLabel('State follows them').check()
  await expect(sheet.getByRole('button', { name: 'State: Not started' })).toBeVisible()
  await choose(sheet.getByLabel('Tags', { exact: true }), 'client asked')
  await page.keyboard.press('Escape')
  await choose(sheet.getByLabel('Records'), 'Asked for')
  await sheet.getByLabel('Amount').fill('125.50')
  await sheet.getByLabel('Amount').blur()
  await sheet.getByRole('button', { name: 'Follow', exact: true }).click()
  await expect(sheet.getByRole('button', { name: 'Take Imogen Achterberg off' })).toHaveCount(2)
  await expect
    .poll(
      async () =>
        Object.keys(
          ((await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as { fields: object })
            .fields,
        ).length,
    )
    .toBe(2)
  const made = (await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as {
    fields: Record<string, unknown>
    tags: { name: string }[]
    estimate: number
  }
  expect([Object.values(made.fields).sort(), made.tags.map((t) => t.name), made.estimate]).toEqual([
    [12_550, 'asked'].sort(),
    ['client asked'],
    90,
  ])

  // A date before the start is refused where it stands, and nothing is lost.
  await sheet.getByLabel('Start', { exact: true }).fill('2026-12-24')
  await sheet.getByLabel('Start', { exact: true }).blur()
  await expect(sheet.getByRole('alert').filter({ hasText: 'is after Due' })).toBeVisible()

  // Copied, merged into the copy, archived there.
  await sheet.getByRole('button', { name: 'More for this task' }).click()
  await page.getByRole('menuitem', { name: 'Copy…' }).click()
  await page.getByLabel('Title of the copy').fill('The copy')
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await expect(sheet.getByRole('textbox', { name: 'Title' })).toHaveValue('The copy')
  await expect(sheet.getByText('0 of 2 done')).toBeVisible()
  const copy = Number(new URL(page.url()).searchParams.get('task'))
  await page.goto(`/work/${project}?task=${id}`)
  await sheet.getByRole('button', { name: 'More for this task' }).click()
  await page.getByRole('menuitem', { name: 'Merge into…' }).click()
  await page.getByLabel('Number of the other task').fill(`#${copy}`)
  await page.getByRole('button', { name: 'Merge', exact: true }).click()
  await expect(page.getByText(`Merged into #${copy}; this one is archived.`)).toBeVisible()
  await expect(sheet.getByText('0 of 4 done')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(sheet.getByText('0 of 2 done')).toBeVisible()
  // The short link leads here from anywhere.
  await page.goto(`/task/${copy}`)
  await expect(sheet.getByRole('textbox', { name: 'Title' })).toHaveValue('The copy')
})

test('a project from end to end: judged, phases, milestones, talk, copied, archived and back', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id } = (await (
    await page.request.post('/api/v1/projects', {
      data: { name: 'Shaped', clientId: 1, phases: ['Gather'] },
      headers: { Origin: house.url },
    })
  ).json()) as {
    id: number
  }
  await page.goto(`/work/${id}?about`)
  await page.getByRole('textbox', { name: 'Description of the project' }).fill('What it is for')
  await choose(page.getByLabel('Set how it stands'), 'In trouble')
  await page.getByLabel('Why').fill('The bank is closed')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(page.getByText('The bank is closed').first()).toBeVisible()
  await page.getByRole('button', { name: 'Add a phase' }).click()
  await page.getByLabel('Name of phase 2').fill('Close')
  await page.getByRole('button', { name: 'Carry Close elsewhere' }).press('Alt+Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Close, where it is' })).toBeVisible()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Save the phases' }).click()
  await expect(page.getByText('The phases are saved.')).toBeVisible()
  await expect(page.getByLabel('Name of phase 1')).toHaveValue('Close')
  await page.getByLabel('Name of the milestone', { exact: true }).fill('Signed')
  await page.getByLabel('Date of the milestone', { exact: true }).fill('2026-12-04')
  await choose(page.getByLabel('Owner of the milestone', { exact: true }), 'Tobias Okonjo')
  await page.getByRole('button', { name: 'Set it' }).click()
  await page.getByLabel('Signed is reached').check()
  await expect(page.getByText('“Signed” is reached.')).toBeVisible()
  await page.getByLabel('Date of Signed').fill('11 dec')
  await page.getByLabel('Date of Signed').press('Enter')
  await expect(page.getByText('“Signed” moved to Fri 11 Dec.')).toBeVisible()
  // Typed digit by digit, a date is one edit: the one it ends as.
  await page.getByLabel('Date of Signed').focus()
  await page.keyboard.type('18/12/2026')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“Signed” moved to Fri 18 Dec.')).toBeVisible()
  await choose(page.getByLabel('Owner of Signed'), 'Devika Rao')
  await page.getByLabel('Name of the milestone Signed').fill('Signed by all')
  await page.getByLabel('Name of the milestone Signed').press('Enter')
  await expect(page.getByLabel('Owner of Signed by all')).toHaveValue('Devika Rao')
  expect(
    ((await (await page.request.get(`/api/v1/projects/${id}`)).json()) as { milestones: unknown[] })
      .milestones,
  ).toMatchObject([{ name: 'Signed by all', date: '2026-12-18', owner: { name: 'Devika Rao' } }])
  await page
    .getByRole('textbox', { name: 'Say something about the project' })
    .fill('All is well again')
  await choose(page.getByLabel('As a status update'), 'status: Steady')
  await page.getByRole('button', { name: 'Say it' }).click()
  await expect(page.locator('.note', { hasText: 'All is well again' })).toContainText('Steady')
  await page.getByRole('button', { name: 'reword' }).click()
  await page
    .getByRole('textbox', { name: 'What was said, reworded' })
    .fill('All is well again, so far')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.locator('.note', { hasText: 'so far' })).toContainText('Steady')

  // Everyone on it sees it within a moment.
  const member = await as('member')
  await member.goto(`/work/${id}?about`)
  await expect(member.locator('.note', { hasText: 'All is well again' })).toBeVisible()
  await expect(member.getByLabel('Name of phase 1')).toHaveAttribute('readonly', '')

  // Two on one description: whoever comes second chooses.
  const mine = page.getByRole('textbox', { name: 'Description of the project' })
  await mine.focus()
  await page.keyboard.press('End')
  await page.keyboard.type(', and by when')
  await member
    .getByRole('textbox', { name: 'Description of the project' })
    .fill('Written by somebody else')
  await member.getByRole('heading', { name: 'How it stands' }).click()
  await expect(member.getByText('The description is saved.')).toBeVisible()
  await page.waitForTimeout(700)
  await page.getByRole('heading', { name: 'How it stands' }).click()
  await expect(
    page.getByText('Somebody else changed the description while you wrote.'),
  ).toBeVisible()
  await expect(page.locator('.note', { hasText: 'Written by somebody else' })).toBeVisible()
  await page.getByRole('button', { name: 'Keep mine' }).click()
  await expect(member.getByRole('textbox', { name: 'Description of the project' })).toHaveText(
    'What it is for, and by when',
  )

  const more = () => page.getByRole('button', { name: 'More for this project' }).click()
  await more()
  await page.getByRole('menuitem', { name: 'States…' }).click()
  await page.getByLabel('A copy of it, for this project alone').check()
  await page.getByRole('button', { name: 'Use it' }).click()
  await expect(page.getByText('The project has these states now.')).toBeVisible()
  await more()
  await page.getByRole('menuitem', { name: 'Copy…' }).click()
  await page.getByLabel('Name of the copy').fill('Shaped again')
  await page.getByRole('button', { name: 'Copy', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Shaped again' })).toBeVisible()
  await more()
  await page.getByRole('menuitem', { name: 'Its journal' }).click()
  await expect(page.getByRole('combobox', { name: 'Project', exact: true })).toHaveValue(
    'Shaped again',
  )
  await expect(page.locator('.change')).toHaveCount(1)
  await choose(page.getByRole('combobox', { name: 'Project', exact: true }), 'in every project')
  await expect(page.locator('.change').nth(5)).toBeVisible()
  await page.goBack()
  await more()
  await page.getByRole('menuitem', { name: 'Finish' }).click()
  await expect(page.getByText('Finished', { exact: true })).toBeVisible()
  await more()
  await page.getByRole('menuitem', { name: 'Archive' }).click()
  await page.getByRole('link', { name: 'Projects' }).click()
  await page.getByRole('button', { name: /^Archived/ }).click()
  await page.getByRole('link', { name: 'Shaped again' }).click()
  await more()
  await page.getByRole('menuitem', { name: 'Bring back' }).click()
  await expect(page.getByText('The project is back.')).toBeVisible()
})

test('a field of one’s own: made, filled, hidden without losing what it holds', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  await page.goto('/work/set-up')
  await page.getByRole('button', { name: 'Make a field' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Batch')
  await choose(page.getByLabel('Type'), 'Choice')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(
    page.getByRole('alert').filter({ hasText: 'needs something to choose from' }),
  ).toBeVisible()
  await page.getByLabel('Another choice').fill('Odd')
  await page.getByLabel('Another choice').press('Enter')
  await page.getByLabel('Another choice').fill('Even')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.locator('tr', { hasText: 'Batch' })).toContainText('OddEven')
  const { id } = (await (
    await page.request.post('/api/v1/tasks', {
      data: { title: 'Carries it', assignees: [1], due: '2026-11-23' },
      headers: { Origin: house.url },
    })
  ).json()) as { id: number }
  await page.goto(`/today?task=${id}`)
  await choose(page.getByLabel('Batch', { exact: true }), 'Even')
  await page.goto('/work/all')
  await choose(page.getByLabel('Groups'), 'Batch')
  await expect(page.getByRole('button', { name: 'Even', exact: true })).toBeVisible()
  await page.goto('/work/set-up')
  await page.locator('tr', { hasText: 'Batch' }).getByRole('button', { name: 'Hide' }).click()
  await expect(page.getByText('“Batch” is hidden; its values stay.')).toBeVisible()
  await page.goto(`/today?task=${id}`)
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Carries it')
  await expect(page.getByLabel('Batch', { exact: true })).toHaveCount(0)
  await page.goto('/work/set-up')
  await page.locator('tr', { hasText: 'Batch' }).getByRole('button', { name: 'Show again' }).click()
  await page.goto(`/today?task=${id}`)
  await expect(page.getByLabel('Batch', { exact: true })).toHaveValue('Even')
})

test('what is typed lands in its own task, however slow the line and quick the hand', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const post = async <T>(path: string, data: object) =>
    (await (
      await page.request.post(`/api/v1${path}`, { data, headers: { Origin: house.url } })
    ).json()) as T
  const { id: project } = await post<{ id: number }>('/projects', {
    name: 'Quick hands',
    clientId: null,
  })
  const [a, b] = [
    await post<{ id: number }>('/tasks', { title: 'First', projectId: project }),
    await post<{ id: number }>('/tasks', { title: 'Second', projectId: project }),
  ]
  const titleOf = async (id: number) =>
    ((await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as { title: string }).title
  await page.route('**/api/v1/tasks/*', async (route) => {
    if (route.request().method() === 'PATCH') await new Promise((done) => setTimeout(done, 900))
    await route.continue()
  })
  await page.goto(`/work/${project}?task=${a.id}`)
  const title = page.getByRole('textbox', { name: 'Title' })
  await expect(title).toHaveValue('First')
  // Two edits one after the other, and away to the other task while the first is still on its way.
  await page.getByRole('button', { name: 'Priority: Normal' }).click()
  await page.getByRole('menuitemradio', { name: 'High' }).click()
  await title.fill('First, reworded')
  await page.getByRole('button', { name: 'Second', exact: true }).click()
  await expect(title).toHaveValue('Second')
  await title.fill('Second, reworded')
  await title.blur()
  await expect.poll(() => titleOf(a.id)).toBe('First, reworded')
  await expect.poll(() => titleOf(b.id)).toBe('Second, reworded')
  // Closed while typing, nothing is dropped; a comment begun is there when one comes back.
  await page.getByRole('textbox', { name: 'Comment' }).fill('Half a thought')
  await title.fill('Second, at last')
  await title.press('Escape')
  await expect(page.locator('.tasksheet')).toHaveCount(0)
  await expect.poll(() => titleOf(b.id)).toBe('Second, at last')
  await page.goto(`/work/${project}?task=${b.id}`)
  await expect(page.getByRole('textbox', { name: 'Comment' })).toHaveText('Half a thought')
  await page.getByRole('button', { name: 'Comment', exact: true }).click()
  await expect(page.locator('.note', { hasText: 'Half a thought' })).toHaveCount(1)
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Comment' })).toHaveText('')
})

test('bulk by people and tags: added to many, taken off many, one step back each', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const headers = { Origin: house.url }
  const { id } = (await (
    await page.request.post('/api/v1/projects', { data: { name: 'Many', clientId: null }, headers })
  ).json()) as { id: number }
  for (const title of ['One', 'Two', 'Three'])
    await page.request.post('/api/v1/tasks', {
      data: { title, projectId: id, assignees: [3] },
      headers,
    })
  await page.goto(`/work/${id}`)
  const people = async () =>
    (
      (await (
        await page.request.get(
          `/api/v1/tasks?q=${encodeURIComponent(JSON.stringify({ scope: { of: 'project', id } }))}`,
        )
      ).json()) as {
        tasks: { assignees: { name: string }[]; tags: { name: string }[] }[]
      }
    ).tasks
  await page.locator('.gr').first().hover()
  await page.locator('.gr .mark').first().check()
  await page.getByRole('button', { name: 'Mark all 3' }).click()
  const set = async (what: string, choice: string) => {
    await setAll(page, what)
    await page.getByRole('option', { name: choice }).click()
    await expect(page.getByText('3 tasks changed.')).toBeVisible()
    await page.getByRole('button', { name: 'Close', exact: true }).click()
  }
  await set('Add: On it', 'Devika Rao')
  await set('Take off: On it', 'Tobias Okonjo')
  await set('Add: Tag', 'quick')
  expect(
    (await people()).map((t) => [t.assignees.map((a) => a.name), t.tags.map((g) => g.name)]),
  ).toEqual(Array.from({ length: 3 }, () => [['Devika Rao'], ['quick']]))
  await setAll(page, 'Take off: Tag')
  await page.getByRole('option', { name: 'quick' }).click()
  await expect(page.getByText('3 tasks changed.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(async () => (await people()).every((t) => t.tags.length === 1)).toBe(true)
  await set('Add: Follower', 'Casper Vell')
  // What a filter hides is not marked any longer: nothing unseen is changed.
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  await page.getByRole('button', { name: 'Add a test' }).click()
  await expect(page.getByText('3 tasks marked')).toHaveCount(0)
})
