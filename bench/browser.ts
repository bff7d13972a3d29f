import { gzipSync } from 'node:zlib'
import { chromium, type Page } from '@playwright/test'
import { startServer } from '#server/server.ts'
import { openSession } from '#server/http/sessions.ts'
import { insertTask } from '#server/areas/tasks/write.ts'
import { ENGINE, NOW, ownFolder, report } from './house.ts'

// What a person waits for in the browser, on the build: run `npm run build` first.
const { folder, remove } = ownFolder()
const running = await startServer({
  data: folder,
  port: 0,
  web: new URL('../dist/web', import.meta.url).pathname,
  testNow: NOW,
})
const { engine, port } = running
const made = engine.journal.change(ENGINE, (write) => {
  write.insert('firm', {
    id: 1,
    name: 'Bench',
    zone: 'Europe/London',
    week: ['MO', 'TU', 'WE', 'TH', 'FR'],
    hours: {},
    demo: true,
  })
  const people = Array.from({ length: 12 }, (_, i) =>
    write.insert('people', {
      name: `Person ${i}`,
      email: `p${i}@bench.example`,
      access: i ? 'member' : 'manager',
    }),
  )
  const large = write.insert('projects', { name: 'Ten thousand', createdAt: NOW })
  const phases = ['Gather', 'Post', 'Check', 'Close'].map((name, position) =>
    write.insert('phases', { projectId: large, name, position }),
  )
  const board = write.insert('projects', { name: 'A thousand', createdAt: NOW })
  const task = (projectId: number, i: number) =>
    insertTask(engine, write, {
      title: `Task ${i} of many, with a title of usual length`,
      projectId,
      phaseId: projectId === large ? phases[i % 4]! : null,
      due: new Date(NOW + ((i % 120) - 30) * 86_400_000).toISOString().slice(0, 10),
      estimate: (i % 9) * 15,
      priority: i % 11 ? 'normal' : 'urgent',
      state: i % 3 ? 'not-started' : 'under-way',
      assignees: [people[i % 12]!],
      checklist: i % 7 ? [] : ['One', 'Two'],
      position: i,
    })
  for (let i = 0; i < 10_000; i++) task(large, i)
  for (let i = 0; i < 1_000; i++) task(board, i)
  return { large, board, manager: people[0]! }
}).result
const url = `http://127.0.0.1:${port}`
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
})
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: url })
await context.addCookies([{ name: 'fernwick', value: openSession(engine, made.manager), url }])
await context.addInitScript(() => {
  const kept: number[] = []
  ;(window as unknown as { long: number[] }).long = kept
  new PerformanceObserver((list) =>
    list.getEntries().forEach((e) => kept.push(e.duration)),
  ).observe({ type: 'longtask', buffered: true })
})
const longest = async (page: Page) => {
  await page.waitForTimeout(300)
  return page.evaluate(() =>
    Math.max(0, ...(window as unknown as { long: number[] }).long.splice(0)),
  )
}

{
  const page = await context.newPage()
  let bytes = 0
  const reading: Promise<void>[] = []
  page.on('response', (r) => {
    if (r.request().resourceType() === 'script')
      reading.push(r.body().then((b) => void (bytes += gzipSync(b).length)))
  })
  await page.goto('/today', { waitUntil: 'networkidle' }).catch(() => undefined)
  await page.waitForTimeout(500)
  await Promise.all(reading)
  report('JavaScript of the first load, gzipped', bytes / 1000, 250, '', ' kB')
  await page.close()
}
{
  const page = await context.newPage()
  await page.goto(`/work/${made.large}`)
  await page.locator('.gr').first().waitFor()
  report(
    'project of 10,000 tasks, list opened: longest task on the main thread',
    await longest(page),
    100,
    '',
    ' ms',
  )
  await page.locator('.scroller').hover()
  for (let i = 0; i < 60; i++) {
    await page.mouse.wheel(0, 1500)
    await page.waitForTimeout(16)
  }
  report('scrolled by 90,000 pixels', await longest(page), 100, '', ' ms')
  await page.getByLabel('Groups').selectOption({ label: 'On it' })
  await page
    .getByRole('gridcell', { name: /^Person 0/ })
    .first()
    .waitFor()
  report('grouped by person', await longest(page), 100, '', ' ms')
  await page.getByRole('button', { name: /^Filter/ }).click()
  await page.getByRole('button', { name: 'Add a test' }).click()
  await page.waitForTimeout(600)
  report('filtered', await longest(page), 100, '', ' ms')
  await page.close()
}
{
  const page = await context.newPage()
  await page.goto(`/work/${made.board}`)
  await page
    .getByRole('group', { name: 'View', exact: true })
    .getByRole('button', { name: 'Board' })
    .click()
  await page.getByLabel('Columns').selectOption({ label: 'State' })
  await page.locator('.slip').first().waitFor()
  await longest(page)
  const from = (await page.locator('.slip').first().boundingBox())!
  // As text: the compiler's helpers are not there in the page.
  await page.evaluate(
    `window.frames_ = []
    {
    let last = performance.now()
    const step = (now) => {
      window.frames_.push(now - last)
      last = now
      requestAnimationFrame(step)
    }
    requestAnimationFrame(step)
    }`,
  )
  const frames = () =>
    page.evaluate(() =>
      (window as unknown as { frames_: number[] }).frames_.splice(0).sort((a, b) => a - b),
    )
  const p95 = (list: number[]) => list[Math.floor(list.length * 0.95)] ?? 0
  await page.waitForTimeout(800)
  const still = p95(await frames())
  await page.mouse.move(from.x + 60, from.y + 30)
  await page.mouse.down()
  for (let i = 0; i < 50; i++) {
    await page.mouse.move(from.x + 60 + i * 14, from.y + 30 + (i % 10) * 12)
    await page.waitForTimeout(16)
  }
  const moving = p95(await frames())
  await page.mouse.up()
  report(
    'board of 1,000 slips: 95th percentile of a frame while one is dragged, against the board at rest',
    moving / still,
    1.5,
    `${moving.toFixed(1)} ms against ${still.toFixed(1)} ms`,
  )
  report('longest task while dragging', await longest(page), 100, '', ' ms')
}
await browser.close()
await running.stop()
remove()
