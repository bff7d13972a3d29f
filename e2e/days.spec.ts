import { expect, test, choose } from './house.ts'
import { project, read, view, violations } from './work.ts'

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
  await page.getByRole('button', { name: 'Add a task due Tue 24 Nov' }).click()
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
