import { expect, test, choose } from './house.ts'

const CSV = `Step,Stage,Who,Minutes,Days before,Notes
Ask for the claim forms,Gather,Clerk,20,-5,
Check the claims,Gather,Clerk,45m,-3,Against the diary
,Gather,Clerk,10,-3,
Send to the insurer,Send,Checker,soon,-1,
"Book the payment, and file",Send,Checker,1h 30m,0,
`

test('from a checklist to the second rung of the ladder', async ({ as, house }) => {
  const page = await as('manager')

  // Bring in a checklist: columns are guessed, bad rows named by line, the rest kept.
  await page.goto('/clockwork/templates')
  await page.getByRole('link', { name: 'Bring in a checklist' }).first().click()
  await page.setInputFiles('input[type=file]', {
    name: 'claims-batch.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(CSV),
  })
  await expect(page.getByText('2 rows left out')).toBeVisible()
  await expect(page.getByText('Line 4 has no title.')).toBeVisible()
  await expect(page.getByText(/Line 5 “soon” is not an effort/)).toBeVisible()
  await expect(page.getByText('3 tasks in 2 phases')).toBeVisible()
  // Map a column by hand: the notes become descriptions or not.
  await page.getByRole('button', { name: /Column for Description/ }).click()
  await page.getByRole('menuitemradio', { name: 'not in the file' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Claims batch')
  await page.getByRole('button', { name: 'Make the template' }).click()

  // The template on its axis: move a task by keyboard, change it in the margin, save a version.
  await expect(page.getByLabel('Name of the template')).toHaveValue('Claims batch')
  const bar = page.getByRole('button', { name: /^Check the claims, due 3 working days before/ })
  await bar.focus()
  await bar.press('ArrowRight')
  await expect(
    page.getByRole('button', { name: /^Check the claims, due 2 working days before/ }),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Ask for the claim forms', exact: true }).click()
  await page.getByLabel('Checklist, a line each').fill('Forms signed\nInvoices attached')
  await page.getByLabel('Checklist, a line each').blur()
  await page.getByRole('button', { name: 'Save as version 2' }).click()
  await expect(page.getByRole('button', { name: 'Version 2, saved' })).toBeVisible()
  await page.getByRole('button', { name: 'Close', exact: true }).first().click()

  // Try it on real dates: findings, then start.
  await choose(page.getByLabel('Client', { exact: true }), 'Greywether Equine')
  await page.getByLabel('Deadline', { exact: true }).fill('2026-11-30')
  await page.getByLabel('Deadline', { exact: true }).blur()
  await choose(page.getByLabel('Clerk'), 'Imogen Achterberg')
  await expect(page.getByText('Nobody fills Checker: 1 task would have no owner.')).toBeVisible()
  await choose(page.getByLabel('Checker'), 'Tobias Okonjo')
  await expect(
    page.getByText(/Book the payment, and file lands on Mon 30 Nov: Tobias is away/),
  ).toBeVisible()
  await expect(page.getByText(/3 tasks from Mon 23 Nov to Mon 30 Nov/)).toBeVisible()
  await page.getByLabel('Name of the project').fill('Greywether, November claims')
  await page.getByRole('button', { name: 'Start it now' }).click()
  await expect(page.getByRole('heading', { name: 'Greywether, November claims' })).toBeVisible()
  await expect(page.getByText('0 of 3 done')).toBeVisible()

  // On Today: there it is; tick it off, take it back, tick it again.
  await page.goto('/today')
  const line = page.locator('.row', { hasText: 'Ask for the claim forms' })
  await expect(line).toBeVisible()
  await line.getByRole('checkbox').click()
  await expect(line).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(line).toBeVisible()
  await line.getByRole('checkbox').click()
  await expect(line).toHaveCount(0)

  // Move a date from the line, and the ribbon filters.
  const check = page.locator('.row', { hasText: 'Check the claims' })
  await expect(check).toContainText('Thu 26 Nov')
  await check.getByRole('button', { name: /^Due/ }).click()
  await page.getByRole('menuitem', { name: 'To today' }).click()
  await expect(
    page.locator('section', { hasText: /^Today/ }).locator('.row', { hasText: 'Check the claims' }),
  ).toBeVisible()
  await page.getByRole('button', { name: /^Mon 23 Nov/ }).click()
  await expect(page.getByRole('heading', { name: /^Due Mon 23 Nov/ })).toBeVisible()
  await page.getByRole('button', { name: 'Show every day' }).click()

  // Make it a series: next twelve dates with the reason beside a rolled one.
  await page.goto('/clockwork/templates')
  await page.getByRole('link', { name: 'Claims batch' }).click()
  await choose(page.getByLabel('Client', { exact: true }), 'Greywether Equine')
  await page.getByRole('link', { name: 'Make it a series' }).click()
  await page.getByRole('button', { name: /^Kind of schedule/ }).click()
  await page.getByRole('menuitemradio', { name: 'on a day of the month' }).click()
  await page.getByRole('button', { name: /^Day of the month/ }).click()
  await page.getByRole('menuitemradio', { name: '28th', exact: true }).click()
  await expect(page.getByText('Sat 28 Nov is not a working day')).toBeVisible()
  await choose(page.getByLabel('Clerk'), 'Imogen Achterberg')
  await page.getByLabel('Lead, working days').fill('6')
  await page.getByLabel('Name of the series').fill('Claims, Greywether')
  await page.getByRole('button', { name: 'Make the series' }).click()
  await expect(page.getByText('What became of its dates')).toBeVisible()
  // Its first date is within the lead already, so it is made at once.
  await expect(
    page.getByRole('link', { name: 'Greywether, claims batch October 2026' }),
  ).toBeVisible()
  // The next month's is made by itself: 28 December is a bank holiday, so 29; six working days
  // before is the 17th.
  await house.clock('2026-12-17T05:59:00Z')
  await page.request.post('/api/v1/session/demo', {
    data: { who: 'manager' },
    headers: { Origin: house.url },
  })
  await page.reload()
  await expect(page.getByText('What became of its dates')).toBeVisible()
  await expect(
    page.getByRole('link', { name: 'Greywether, claims batch November 2026' }),
  ).toHaveCount(0)
  await house.clock('2026-12-17T06:00:00Z')
  await page.reload()
  await expect(
    page.getByRole('link', { name: 'Greywether, claims batch November 2026' }),
  ).toBeVisible()
})

test('late work reminds its owner and then escalates', async ({ as, house }) => {
  const page = await as('manager')
  await page.goto('/clockwork/rules')
  // A rule of its own, made on screen; off until it is switched on.
  await page.getByRole('link', { name: 'Make a rule' }).click()
  await page.getByLabel('Name of the rule').fill('Claims must go out')
  await page.getByRole('button', { name: 'Add a test' }).click()
  await choose(page.getByLabel('Field'), 'Estimate')
  await page.getByLabel('Value').fill('77')
  await page.getByRole('button', { name: 'Add a rung' }).click()
  await page
    .getByRole('button', { name: /^Action: Remind/ })
    .nth(1)
    .click()
  await page.getByRole('menuitemradio', { name: 'Tell', exact: true }).click()
  await page.getByRole('button', { name: /^Who: the project/ }).click()
  await page.getByRole('menuitemradio', { name: 'the rule’s owner' }).click()
  await page.getByRole('button', { name: 'Save, switched off' }).click()
  await expect(
    page.getByText('Saved as version 1; it is off until you switch it on.'),
  ).toBeVisible()
  await page.getByRole('checkbox', { name: 'Off' }).click()
  // Something is late already: it is said first, and left alone.
  await expect(page.getByText(/meets? it already and would be acted on at once/)).toBeVisible()
  await page.getByRole('button', { name: 'Only from now on' }).click()
  await expect(page.getByText('“Claims must go out” is on.')).toBeVisible()

  const now = ((await (await page.request.get('/api/v1/me')).json()) as { today: string }).today
  const made = await page.request.post('/api/v1/tasks', {
    data: { title: 'Send the claims', due: now, estimate: 90, assignees: [1, 3] },
    headers: { Origin: house.url },
  })
  const { assignees } = (await made.json()) as { assignees: { name: string }[] }
  expect(assignees.map((a) => a.name).sort()).toEqual(['Imogen Achterberg', 'Tobias Okonjo'])
  // On the first working day after its due the owner is reminded; on the third the rule's owner is
  // told, by mail too.
  const next = new Date(Date.parse(now))
  const step = () => {
    do next.setUTCDate(next.getUTCDate() + 1)
    while (
      [0, 6].includes(next.getUTCDay()) ||
      ['2026-12-25', '2026-12-28', '2027-01-01'].includes(next.toISOString().slice(0, 10))
    )
    return next.toISOString().slice(0, 10)
  }
  await house.clock(`${step()}T09:30:00Z`)
  await page.goto('/today')
  const line = page
    .locator('section', { hasText: /^Slipped/ })
    .locator('.row', { hasText: 'Send the claims' })
  await expect(line.getByText('rung 1 of 2')).toBeVisible()
  step()
  await house.clock(`${step()}T09:30:00Z`)
  await page.reload()
  await expect(line.getByText('rung 2 of 2')).toBeVisible()
  await expect(
    page.getByText('Send the claims for the firm is 3 working days late').first(),
  ).toBeVisible()

  // Why: the run log; what was told: notices and the mail tray.
  await line.getByText('rung 2 of 2').click()
  await expect(page.getByText('Rung 2: Told Imogen Achterberg')).toBeVisible()
  await page.getByRole('button', { name: 'why' }).first().click()
  await expect(page.getByText(/Held: estimate is at least 1h 17m: it was 1h 30m/)).toBeVisible()
  await page.goto('/notices')
  await expect(
    page
      .locator('.one', { hasText: 'Escalation' })
      .filter({ hasText: 'Send the claims for the firm is 3 working days late' }),
  ).toHaveCount(1)
  await page.getByRole('link', { name: 'Mail tray' }).click()
  await page
    .locator('.li', { hasText: 'Send the claims for the firm is 3 working days late' })
    .click()
  await expect(page.locator('article')).toContainText('imogen.achterberg@quillhaven.example')
})

test('a rule reacts to what somebody does, and says why', async ({ as, house }) => {
  const page = await as('manager')
  await page.goto('/clockwork/rules/new')
  await page.getByLabel('Name of the rule').fill('Hear of what waits')
  await page.getByRole('button', { name: /^When: a task is late/ }).click()
  await page.getByRole('menuitemradio', { name: 'a field of a task changes' }).click()
  await page.getByRole('button', { name: 'To what: whatever' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Waiting', exact: true }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Add a test' }).click()
  await choose(page.getByLabel('Field', { exact: true }), 'Client: tier')
  await choose(page.getByLabel('How', { exact: true }), 'is not')
  await page.getByRole('button', { name: 'Value: choose' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Bronze', exact: true }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Action: Remind' }).click()
  await page.getByRole('menuitemradio', { name: 'Set priority' }).click()
  await page.getByRole('button', { name: 'Save, switched off' }).click()
  await expect(page.getByText('Saved as version 1')).toBeVisible()
  await page.getByRole('checkbox', { name: 'Off' }).click()
  await expect(page.getByText('“Hear of what waits” is on.')).toBeVisible()
  const made = await page.request.post('/api/v1/tasks', {
    data: { title: 'Ask for the rota', assignees: [3] },
    headers: { Origin: house.url },
  })
  const { id } = (await made.json()) as { id: number }
  await page.request.patch(`/api/v1/tasks/${id}`, {
    data: { state: 'waiting' },
    headers: { Origin: house.url },
  })
  await expect(page.getByText('Set priority urgent').first()).toBeVisible()
  await page.getByText('why', { exact: true }).first().click()
  await expect(page.getByText('Held: client’s tier is not Bronze: it was none')).toBeVisible()
  await page.goto(`/today?task=${id}`)
  await page.getByRole('tab', { name: 'Journal' }).click()
  await expect(page.getByText('priority Normal → Urgent')).toBeVisible()
})
