import { expect, test } from './house.ts'

declare global {
  interface Window {
    readable: number | null
    shifted: number
  }
}

test('a task opened from a row is readable within two frames of its data; nothing shifts for it', async ({
  as,
}) => {
  const page = await as('manager')
  await page.addInitScript(() => {
    window.readable = null
    window.shifted = 0
    new PerformanceObserver((list) => {
      for (const each of list.getEntries() as (PerformanceEntry & {
        value: number
        hadRecentInput: boolean
      })[])
        // As the measure is defined, what a press itself moves is no shift.
        if (!each.hadRecentInput) window.shifted += each.value
    }).observe({ type: 'layout-shift', buffered: true })
    const real = window.fetch
    window.fetch = async (...asked) => {
      const answer = await real(...asked)
      const json = answer.json.bind(answer)
      // Frames are counted from when the page has the data in hand.
      if (/\/tasks\/\d+$|\/together/.test(String(asked[0])))
        answer.json = async () => {
          const data = (await json()) as unknown
          let frames = 0
          const look = () => {
            frames++
            const title = document.querySelector<HTMLTextAreaElement>('.tasksheet textarea')
            if (title?.value) window.readable ??= frames
            else if (frames < 60) requestAnimationFrame(look)
          }
          if (document.querySelector('.tasksheet')) requestAnimationFrame(look)
          return data
        }
      return answer
    }
  })
  await page.goto('/work/all')
  const names = page.locator('[role$=grid] .name')
  await expect(names.first()).toBeVisible()
  // The code of the sheet is fetched once.
  await names.nth(1).click()
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue(/./)
  await page.evaluate(() => (window.readable = null))
  await names.nth(3).click()
  await expect.poll(() => page.evaluate(() => window.readable)).not.toBe(null)
  expect(await page.evaluate(() => window.readable)).toBeLessThanOrEqual(2)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Columns', exact: true }).click()
  await page.keyboard.press('Escape')
  expect(await page.evaluate(() => window.shifted)).toBeLessThan(0.05)
})
