import type { CDPSession, Locator, Page } from '@playwright/test'
import { expect, test } from './house.ts'

/** A project of a few tasks in an order by hand; answers its number and theirs. */
async function project(page: Page, origin: string, titles: readonly string[]) {
  const send = async <T>(path: string, data: object) =>
    (await (
      await page.request.post(`/api/v1${path}`, { data, headers: { Origin: origin } })
    ).json()) as T
  const { id } = await send<{ id: number }>('/projects', {
    name: 'Carried',
    clientId: null,
    phases: ['Gather', 'Close'],
  })
  const tasks: number[] = []
  for (const title of titles)
    tasks.push(
      (await send<{ id: number }>('/tasks', { title, projectId: id, due: '2026-11-25' })).id,
    )
  return { id, tasks }
}
const order = (page: Page) => page.locator('[role$=grid]').locator('.name').allInnerTexts()
const carried = (page: Page) => page.locator('.carried')
const dueOf = async (page: Page, id: number) =>
  ((await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as { due: string }).due
const centre = async (of: Locator) => {
  const box = (await of.boundingBox())!
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
}

test('by keyboard: a row to its place, onto a day, and left where it was', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, ['One', 'Two', 'Three'])
  await page.goto(`/work/${id}`)
  const row = (name: string) =>
    page.locator('[role$=grid]').getByRole('button', { name, exact: true })
  await expect(row('Three')).toBeVisible()
  await row('Three').press('Alt+Enter')
  await expect(carried(page)).toContainText('where it is')
  await page.keyboard.press('ArrowUp')
  await expect(carried(page)).toContainText('to the place of “Two”')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await expect(carried(page)).toHaveCount(0)
  await expect.poll(() => order(page)).toEqual(['Three', 'One', 'Two'])

  // Left where it was: nothing is changed, and the page stays as it is.
  await row('One').press('Alt+Enter')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Escape')
  await expect(carried(page)).toHaveCount(0)
  expect(await order(page)).toEqual(['Three', 'One', 'Two'])

  // Pressed with the mouse, which then goes elsewhere: keys carry what is in focus.
  await row('One').hover()
  await row('One').focus()
  await row('Two').hover()
  await page.keyboard.press('Alt+Enter')
  await expect(carried(page)).toContainText('One')
  await page.keyboard.press('Escape')

  // Up out of the list, onto the days above it.
  await row('Three').press('Alt+Enter')
  for (let i = 0; i < 6 && !(await carried(page).innerText()).includes(' Nov'); i++)
    await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowRight')
  const day = /to (.*)/.exec(await carried(page).innerText())![1]!
  await page.keyboard.press('Enter')
  await expect(page.getByText(`“Three” moved to ${day}.`)).toBeVisible()
  expect(await dueOf(page, tasks[2]!)).not.toBe('2026-11-25')
})

test('by keyboard: a slip to the next column, a bar to the next day, a column to another place', async ({
  as,
  house,
}) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, ['Carried over'])
  await page.goto(`/work/${id}`)
  const head = page.getByRole('columnheader', { name: /^Due/ })
  const heads = () => page.getByRole('columnheader').locator('button').allInnerTexts()
  await expect(head).toBeVisible()
  const before = await heads()
  await head.getByRole('button').press('Alt+Enter')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  const at = before.indexOf('Due')
  await expect.poll(heads).toEqual(before.toSpliced(at, 2, before[at + 1]!, before[at]!))

  await page.getByRole('button', { name: 'Board', exact: true }).click()
  const slip = page.getByRole('button', { name: 'Carried over', exact: true })
  await slip.press('Alt+Enter')
  await expect(carried(page)).toContainText('to In no phase')
  await page.keyboard.press('ArrowLeft')
  await expect(carried(page)).toContainText('to Close')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“Carried over” is under')).toBeVisible()

  await page.getByRole('button', { name: 'Calendar', exact: true }).click()
  await page.locator('.ent').getByRole('button').press('Alt+Enter')
  await page.keyboard.press('ArrowRight')
  await expect(carried(page)).toContainText('to Thu 26 Nov')
  await page.keyboard.press('Enter')
  await expect.poll(() => dueOf(page, tasks[0]!)).toBe('2026-11-26')
})

test('by touch: a finger that rests picks up, one that moves at once scrolls', async ({
  browser,
  house,
}) => {
  const context = await browser.newContext({ baseURL: house.url, hasTouch: true })
  const page = await context.newPage()
  await page.request.post('/api/v1/session/demo', {
    data: { who: 'manager' },
    headers: { Origin: house.url },
  })
  const { tasks } = await project(page, house.url, ['By finger'])
  await page.request.patch(`/api/v1/tasks/${tasks[0]}`, {
    data: { due: '2026-11-23', assignees: [1] },
    headers: { Origin: house.url },
  })
  await page.goto('/today')
  const row = page.locator('.row', { hasText: 'By finger' })
  await row.scrollIntoViewIfNeeded()
  const fingers: CDPSession = await context.newCDPSession(page)
  const touch = (type: string, points: { x: number; y: number }[]) =>
    fingers.send('Input.dispatchTouchEvent', {
      type: type as 'touchStart',
      touchPoints: points,
    })
  const from = await centre(row.locator('.open'))
  const to = await centre(page.locator('.day').nth(9))
  await touch('touchStart', [from])
  await expect(carried(page)).toContainText('By finger')
  for (const part of [0.3, 0.7, 1])
    await touch('touchMove', [
      { x: from.x + (to.x - from.x) * part, y: from.y + (to.y - from.y) * part },
    ])
  await expect(carried(page)).toContainText('to ')
  await touch('touchEnd', [])
  await expect.poll(() => dueOf(page, tasks[0]!)).not.toBe('2026-11-23')

  // At once: nothing is picked up.
  const other = page.locator('.row').first()
  const start = await centre(other.locator('.open'))
  await touch('touchStart', [start])
  await touch('touchMove', [{ x: start.x, y: start.y - 60 }])
  await touch('touchMove', [{ x: start.x, y: start.y - 120 }])
  await page.waitForTimeout(400)
  await expect(carried(page)).toHaveCount(0)
  await touch('touchEnd', [])
  await context.close()
})

test('let go of outside the window, everything stays as it was', async ({ as, house }) => {
  const page = await as('manager')
  const { id, tasks } = await project(page, house.url, ['One', 'Two'])
  await page.goto(`/work/${id}`)
  const from = await centre(
    page.locator('[role$=grid]').getByRole('button', { name: 'Two', exact: true }),
  )
  const changes: string[] = []
  page.on('request', (r) => r.method() !== 'GET' && changes.push(r.url()))
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x, from.y - 80, { steps: 4 })
  await expect(carried(page)).toBeVisible()
  await page.mouse.move(-40, -40, { steps: 4 })
  await page.mouse.up()
  await expect(carried(page)).toHaveCount(0)
  // And where another window comes before it.
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x, from.y - 80, { steps: 4 })
  await expect(carried(page)).toBeVisible()
  await page.evaluate(() => window.dispatchEvent(new Event('blur')))
  await expect(carried(page)).toHaveCount(0)
  await page.mouse.up()
  expect([await order(page), await dueOf(page, tasks[1]!), changes]).toEqual([
    ['One', 'Two'],
    '2026-11-25',
    [],
  ])
  // Nor was what was let go of opened by that.
  expect(page.url()).not.toContain('task=')
})

test('in a template: a task to another phase, a phase to another place, a bar along its days', async ({
  as,
}) => {
  const page = await as('manager')
  await page.goto('/clockwork/templates/1')
  const phases = page.locator('.tpl section')
  const titles = (of: Locator) => of.locator('.t').allInnerTexts()
  await expect(phases.nth(1)).toBeVisible()
  const [first, second] = [await titles(phases.nth(0)), await titles(phases.nth(1))]
  // By mouse, onto the first of the next phase.
  await phases.nth(0).locator('.no').last().dragTo(phases.nth(1).locator('.no').first())
  await expect.poll(() => titles(phases.nth(1))).toEqual([first.at(-1), ...second])
  // By keyboard, back.
  await phases.nth(1).locator('.t').first().press('Alt+Enter')
  await page.keyboard.press('ArrowUp')
  await expect(carried(page)).toContainText('to the end of')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await expect.poll(() => titles(phases.nth(1))).toEqual(second)
  await expect.poll(async () => (await titles(phases.nth(0))).length).toBe(first.length)
  // A bar, by mouse: as many days as it is moved.
  const bar = phases.nth(1).locator('.span').first()
  const said = (await bar.getAttribute('aria-label'))!
  const at = await centre(bar)
  await page.mouse.move(at.x, at.y)
  await page.mouse.down()
  await page.mouse.move(at.x + 40, at.y, { steps: 5 })
  await page.mouse.up()
  await expect(bar).not.toHaveAttribute('aria-label', said)
  await expect(page.getByRole('button', { name: /^Save as version/ })).toBeEnabled()
})
