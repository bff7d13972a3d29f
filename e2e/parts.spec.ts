import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import AxeBuilder from '@axe-core/playwright'
import { expect, test, VIEWS } from './house.ts'

const KINDS = ['Board', 'Calendar', 'Timeline', 'Table']

/** The places of bare controls that docs/decisions.md gives a reason for: their selectors. */
const listed = [
  ...readFileSync(new URL('../docs/decisions.md', import.meta.url), 'utf8').matchAll(
    /^\| `([^`]+)`\s+\|/gm,
  ),
].map(([, selector]) => selector!)

/** What of Vuetify's can be focused, or holds what can. */
const PARTS =
  '.v-btn, .v-input, .v-list, .v-list-item, .v-chip, .v-selection-control, .v-file-upload,' +
  '.v-picker, .v-tabs, .v-table'

const NATIVE = 'input[type=date], input[type=time], input[type=datetime-local]'
const within = (page: Page, selector: string): Promise<boolean> =>
  page.evaluate((of) => document.querySelector(of) !== null, selector)
/** Controls outside every part of Vuetify's that nobody listed; native date and time fields anywhere. */
const unlisted = (page: Page): Promise<string[]> =>
  page.evaluate(
    ([parts, known, native]) => {
      const focusable =
        'a[href], button, input:not([type=hidden]), select, textarea, summary, ' +
        '[tabindex]:not([tabindex^="-"]), [contenteditable="true"]'
      return [...document.querySelectorAll<HTMLElement>(focusable)]
        .filter((each) => each.getClientRects().length > 0)
        .filter((each) => each.matches(native!) || !(each.closest(parts!) || each.matches(known!)))
        .map((each) => each.outerHTML.slice(0, 120))
    },
    [PARTS, listed.join(', '), NATIVE],
  )

/** What axe-core finds in what is open. */
const violations = async (page: Page): Promise<string[]> => {
  const { violations } = await new AxeBuilder({ page })
    .include('.v-overlay--active')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  return violations.map((v) => `${v.id} ${v.nodes[0]?.target.join(' ')}`)
}

test('every control is a part of the component base, or listed with its reason', async ({ as }) => {
  const page = await as('manager')
  const found: string[] = []
  const seen = new Set<string>()
  const look = async (where: string): Promise<void> => {
    found.push(...(await unlisted(page)).map((each) => `${where}: ${each}`))
    for (const selector of listed) if (await within(page, selector)) seen.add(selector)
  }
  for (const view of VIEWS) {
    await page.goto(view)
    await expect(page.locator('h1, .name').first()).toBeVisible()
    await expect(page.getByText('Reading…')).toHaveCount(0)
    await look(view)
  }
  await page.goto('/work/39')
  for (const kind of KINDS) {
    await page
      .getByRole('group', { name: 'View', exact: true })
      .getByRole('button', { name: kind })
      .click()
    await expect(page.getByRole('button', { name: kind, pressed: true })).toBeVisible()
    await expect(page.locator('.gr, .slip, .ent, .span, .bar').first()).toBeVisible()
    await look(kind)
  }
  expect(found).toEqual([])
  // The list has nothing that is no longer there, and is short.
  expect(listed.filter((selector) => !seen.has(selector))).toEqual([])
  expect(listed.length).toBeGreaterThan(0)
  expect(listed.length).toBeLessThan(30)
})

/** Marks what opens something, one of each kind that was not met before; answers how many. */
const openers = async (page: Page, met: Set<string>): Promise<number> => {
  const kinds = await page.evaluate(
    (known) => {
      const kinds = new Map<string, HTMLElement>()
      const all =
        'button[aria-haspopup=menu], button[aria-haspopup=dialog], .v-select [type=text], ' +
        '.v-autocomplete [type=text]'
      for (const each of document.querySelectorAll<HTMLElement>(all)) {
        if (each.getClientRects().length === 0) continue
        const name = (each.getAttribute('aria-label') ?? each.textContent ?? '').replace(/\W.*/, '')
        const kind = `${each.tagName} ${each.closest('[class]')!.className.replace(/\S*\d\S*/g, '')} ${name}`
        if (!known.includes(kind)) kinds.set(kind, each)
      }
      let i = 0
      for (const each of kinds.values()) each.dataset['nthOpener'] = String(i++)
      return [...kinds.keys()]
    },
    [...met],
  )
  for (const kind of kinds) met.add(kind)
  return kinds.length
}

for (const scheme of ['light', 'dark'] as const)
  test(`every menu opens by keyboard, has no violation, and Esc closes it alone, ${scheme}`, async ({
    as,
  }) => {
    const page = await as('manager')
    await page.emulateMedia({ colorScheme: scheme })
    const found: string[] = []
    const met = new Set<string>()
    for (const view of [
      ...['/today', '/work/39?task=590', '/work/39?about', '/work/set-up', '/work'],
      ...['/clockwork/series/1', '/clockwork/rules/1', '/clockwork/templates/1'],
    ]) {
      await page.goto(view)
      await expect(page.locator('h1, .name').first()).toBeVisible()
      await expect(page.getByText('Reading…')).toHaveCount(0)
      const sheets = view.includes('?task=') ? 1 : 0
      await expect(page.locator('.tasksheet')).toHaveCount(sheets)
      const many = await openers(page, met)
      for (let i = 0; i < many; i++) {
        const opener = page.locator(`[data-nth-opener="${i}"]`)
        if ((await opener.count()) === 0) continue
        const name = `${view}: ${(await opener.getAttribute('aria-label')) ?? (await opener.innerText())}`
        await opener.focus()
        if ((await opener.getAttribute('tabindex')) === '-1') await opener.click()
        else await page.keyboard.press('ArrowDown')
        const open = page.locator('.v-overlay--active .v-overlay__content')
        await expect(open, name).toHaveCount(1)
        found.push(...(await violations(page)).map((each) => `${name}: ${each}`))
        await page.keyboard.press('Escape')
        await expect(open, name).toHaveCount(0)
        expect(await page.locator('.tasksheet').count(), name).toBe(sheets)
      }
    }
    expect(met.size).toBeGreaterThan(10)
    expect(found).toEqual([])
  })
