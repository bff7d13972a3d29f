import type { APIRequestContext, Page } from '@playwright/test'
import { choose, expect, test } from './house.ts'

/** Rules and reminders, built on the screen and watched with the clock moved on. */

interface Firm {
  readonly projects: readonly { readonly id: number; readonly name: string }[]
}
interface Task {
  readonly id: number
  readonly state: string
  readonly assignees: readonly { readonly name: string }[]
}
const api = (page: Page, url: string) => {
  const headers = { Origin: url }
  const { request }: { request: APIRequestContext } = page
  return {
    async post<T>(path: string, data: object): Promise<T> {
      const answer = await request.post(`/api/v1${path}`, { data, headers })
      expect(answer.ok(), await answer.text()).toBe(true)
      return (await answer.json()) as T
    },
    async patch(path: string, data: object): Promise<void> {
      const answer = await request.patch(`/api/v1${path}`, { data, headers })
      expect(answer.ok(), await answer.text()).toBe(true)
    },
    async get<T>(path: string): Promise<T> {
      return (await (await request.get(`/api/v1${path}`)).json()) as T
    },
  }
}
const pick = async (page: Page, button: RegExp, line: string | RegExp, nth = 0) => {
  await page.getByRole('button', { name: button }).nth(nth).click()
  await page.getByRole('menuitemradio', { name: line, exact: typeof line === 'string' }).click()
}
/** A new rule with a name, woken by something. */
async function begin(page: Page, name: string, when: string | RegExp): Promise<void> {
  await page.goto('/clockwork/rules/new')
  await page.getByLabel('Name of the rule').fill(name)
  await pick(page, /^When: /, when)
}
/** Saves the rule that is written, and switches it on. */
async function switchOn(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Save, switched off' }).click()
  await expect(page.getByText(/^Saved as version 1/)).toBeVisible()
  await page.getByRole('checkbox', { name: 'Off' }).click()
  const said = page.getByText(`“${name}” is on.`)
  const asked = page.getByRole('button', { name: 'Only from now on' })
  await expect(said.or(asked)).toBeVisible()
  if (await asked.isVisible()) await asked.click()
  await expect(said).toBeVisible()
}

test('work of high priority that is due soon finds an owner, and its lead is reminded daily', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post, get } = api(page, house.url)
  const name = 'High work finds an owner'
  await begin(page, name, 'a task is made')
  await page.getByRole('button', { name: 'Add a test' }).click()
  await page.getByRole('button', { name: 'Value: Urgent' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'High' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Urgent' }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Add a test' }).click()
  await choose(page.getByLabel('Field').nth(1), 'Days until due')
  await choose(page.getByLabel('How', { exact: true }).nth(1), 'is at most')
  await page.getByLabel('Value').last().fill('7')
  await pick(page, /^Action: Remind/, 'Assign to')
  await pick(page, /^Who: /, 'the least loaded in Accounts')
  await page.getByRole('button', { name: 'Also do', exact: true }).click()
  await pick(page, /^Action: Tell/, 'Remind daily until')
  await pick(page, /^Who: /, 'the project’s lead', 1)
  await switchOn(page, name)

  const { projects } = await get<Firm>('/directory')
  const body = { title: 'Answer the auditor', priority: 'high', projectId: projects[0]!.id }
  const soon = await post<Task>('/tasks', { ...body, due: '2026-11-27' })
  const later = await post<Task>('/tasks', { ...body, due: '2026-12-24' })
  await expect(async () =>
    expect((await get<Task>(`/tasks/${soon.id}`)).assignees).toHaveLength(1),
  ).toPass()
  expect((await get<Task>(`/tasks/${later.id}`)).assignees).toEqual([])
  // Tuesday and Wednesday at nine.
  await house.clock('2026-11-25T09:30:00Z')
  await page.reload()
  await expect(page.getByText(/^Again: Reminded/)).toHaveCount(2)
  // Why it was they is in the log.
  await page.getByRole('button', { name: 'why', exact: true }).last().click()
  await expect(page.getByText(/of .* that week/)).toBeVisible()
})

test('two working days before it is due, whoever is on a task is reminded', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post } = api(page, house.url)
  await begin(page, 'Due in two days', /^it is so long before/)
  await expect(page.getByText(/^When it is 2 working days before the due date/)).toBeVisible()
  await switchOn(page, 'Due in two days')
  await post('/tasks', { title: 'Order the seals', due: '2026-11-27', assignees: [1] })
  await house.clock('2026-11-25T08:59:00Z')
  await page.reload()
  await expect(page.getByRole('link', { name: 'Order the seals' })).toHaveCount(0)
  await house.clock('2026-11-25T09:00:00Z')
  await page.reload()
  await expect(page.getByRole('link', { name: 'Order the seals' })).toBeVisible()
})

test('a task is done with its subtasks, and a project finished with its last task', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post, patch, get } = api(page, house.url)
  await begin(page, 'Done with its parts', 'all subtasks of a task are closed')
  await pick(page, /^Action: Remind/, 'Set the kind of state')
  await pick(page, /^Kind of state: /, 'Done')
  await switchOn(page, 'Done with its parts')
  const project = await post<{ id: number }>('/projects', { name: 'New scales', clientId: null })
  const whole = await post<Task>('/tasks', { title: 'Fit the scales', projectId: project.id })
  const parts = [1, 2].map((n) =>
    post<Task>('/tasks', { title: `Scale ${n}`, projectId: project.id, parentId: whole.id }),
  )
  for (const part of await Promise.all(parts)) await patch(`/tasks/${part.id}`, { state: 'done' })
  // The firm's own rule finishes the project.
  await expect(async () => {
    expect((await get<Task>(`/tasks/${whole.id}`)).state).toBe('done')
    expect(
      (await get<{ closedAt: number | null }>(`/projects/${project.id}`)).closedAt,
    ).not.toBeNull()
  }).toPass()
  await page.goto(`/work/${project.id}?about`)
  await expect(page.getByText('It is finished.').first()).toBeAttached()
})

test('a rule is tried on one task, branches and all, and nothing is changed', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post, get } = api(page, house.url)
  const { id } = await post<Task>('/tasks', { title: 'Zymurgy ledger', priority: 'high' })
  await begin(page, 'Tried', 'a task is made')
  await pick(page, /^Action: Remind/, 'Set the kind of state')
  await page.getByRole('button', { name: 'Also do where…' }).click()
  await page.getByRole('button', { name: 'Add a test' }).nth(1).click()
  // A field in braces is offered as it is typed.
  const words = page.getByRole('textbox', { name: 'What to say' })
  await words.fill('')
  await words.pressSequentially('Look at {ta')
  await expect(page.getByText('Tab for {task}')).toBeVisible()
  await words.press('Tab')
  await expect(words).toHaveValue('Look at {task}')
  await pick(page, /^Who: /, 'the rule’s owner')
  await page.getByLabel('Which task').fill('Zymurgy')
  await page.getByRole('option', { name: 'Zymurgy ledger' }).click()
  await page.getByRole('button', { name: 'Try it' }).click()
  await expect(page.getByText('What it asks holds now.')).toBeVisible()
  await expect(page.getByText('Made it under way')).toBeVisible()
  // With what it is tried on; where the caret has left a field behind, nothing is offered any more.
  await words.press('Home')
  for (let i = 0; i < 'Look at {t'.length; i++) await words.press('ArrowRight')
  await expect(page.getByText('Tab for {task}')).toBeVisible()
  await words.press('End')
  await expect(page.getByText('Of “Zymurgy ledger” it says: Look at Zymurgy ledger')).toBeVisible()
  await expect(page.getByText('Tab for {task}')).toHaveCount(0)
  await expect(
    page.getByText('Step 2: First to fail: priority is Urgent: it was High'),
  ).toBeVisible()
  expect((await get<Task>(`/tasks/${id}`)).state).toBe('not-started')
})

test('reminders of a task are set on its sheet, come in time, and are taken off', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post } = api(page, house.url)
  const body = { title: 'Ring the lab', due: '2026-11-26', assignees: [1] }
  const { id } = await post<Task>('/tasks', body)
  await page.goto(`/today?task=${id}`)
  await page.getByRole('button', { name: 'Add a reminder' }).click()
  await pick(page, /^How often: /, 'every working day until it is done')
  await page.getByRole('button', { name: 'Set the reminder' }).click()
  await expect(page.getByText('Next Wed 25 Nov, 09:00')).toBeVisible()
  await house.clock('2026-11-26T10:00:00Z')
  await page.reload()
  await expect(page.getByText(/sent to Imogen Achterberg .*sent to Imogen/)).toBeVisible()
  await page.goto('/notices')
  await expect(page.getByText('Ring the lab: due Thu 26 Nov')).toHaveCount(2)
  await page.goto(`/today?task=${id}`)
  const off = page.getByRole('button', { name: /^Take off the reminder/ })
  await off.click()
  await expect(off).toHaveCount(0)
})

test('everything automatic is stopped by one switch, and goes on from now', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { post } = api(page, house.url)
  await page.goto('/clockwork/rules')
  await page.getByRole('button', { name: 'Stop everything automatic' }).click()
  await page.getByRole('button', { name: 'Stop it' }).click()
  await expect(page.getByText(/^Everything automatic is stopped since/)).toBeVisible()
  const body = { title: 'Late while stopped', due: '2026-11-24', priority: 'high', assignees: [1] }
  await post('/tasks', body)
  await house.clock('2026-11-26T10:00:00Z')
  await page.reload()
  await page.getByRole('button', { name: 'Start it again' }).click()
  await expect(page.getByText(/rungs? of late work/)).toBeVisible()
  await page.getByRole('button', { name: 'Only from now on' }).click()
  await expect(page.getByText('Everything automatic goes on.')).toBeVisible()
  await page.goto('/clockwork/log')
  await expect(page.getByRole('link', { name: 'Late while stopped' })).toHaveCount(0)
})

test('a rule is asked of the last 30 days, and why it did nothing', async ({ as, house }) => {
  const page = await as('manager')
  const { post } = api(page, house.url)
  // Late, but of no client and of low priority: what the ladder asks does not hold.
  const body = { title: 'Sweep the yard', due: '2026-11-20', priority: 'low', assignees: [1] }
  const { id } = await post<Task>('/tasks', body)
  await page.goto('/clockwork/rules/1')
  await page.getByRole('button', { name: 'Ask the last 30 days' }).click()
  await expect(page.getByText(/^It would have run \d+ times on \d+ items since/)).toBeVisible()
  await page
    .getByRole('button', { name: /^Why: / })
    .first()
    .click()
  await expect(page.getByText(/^\d+ working days? late, due/).first()).toBeVisible()

  await page.goto(`/clockwork/why?task=${id}`)
  await choose(page.getByRole('combobox', { name: 'Rule' }), 'Late client records')
  await expect(page.getByRole('combobox', { name: 'Which task' })).toHaveValue('Sweep the yard')
  await page.getByRole('button', { name: 'Ask why' }).click()
  await expect(page.getByRole('heading', { name: /^First to fail: priority/ })).toBeVisible()
  await expect(page.getByText('priority is High or Urgent: it was Low').last()).toBeVisible()
  // Of the day before it was there, another reason.
  await page.getByLabel('Day', { exact: true }).fill('2026-11-20')
  await page.getByLabel('Day', { exact: true }).press('Enter')
  await page.getByRole('button', { name: 'Ask why' }).click()
  await expect(page.getByRole('heading', { name: 'There was no such task then' })).toBeVisible()
})

test('the log tells a run whole, is narrowed by words, and runs again', async ({ as, house }) => {
  const page = await as('manager')
  const { post } = api(page, house.url)
  const body = { title: 'Grease the gate', due: '2026-11-20', priority: 'urgent', assignees: [2] }
  await post('/tasks', body)
  await page.goto('/clockwork/log')
  await page.getByLabel('Words in it').fill('grease the')
  const run = page.getByText('Rung 1: Reminded')
  await expect(run).toHaveCount(1)
  await page.getByRole('button', { name: 'why', exact: true }).click()
  await expect(page.getByText('Told', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Run again' }).click()
  await expect(page.getByText(/^Run again: Reminded/).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /^Undo: Run again/ })).toHaveCount(0)
})
