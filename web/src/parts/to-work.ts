import { focusWhenThere } from './focus-when-there.ts'

/** What one comes to in the work of a page: the one stop of Tab in it, else what opens first. */
const FIRST = ['[tabindex="0"]:not(.heads *)', '[data-opens]', ':is(a, button, input)']

export function work(): HTMLElement | null {
  for (const of of FIRST) {
    const found = document.querySelector<HTMLElement>(`[data-work] ${of}`)
    if (found) return found
  }
  return null
}
/** As many frames as work that is still being fetched is waited for. */
const MOST = 300

/**
 * Into the work of a page: its rows, slips or days, past all that stands above them. Where they are
 * still to come, the page has the focus until they do, or until the keys go elsewhere.
 */
export function toWork(): void {
  const there = work()
  const page = document.getElementById('main')
  ;(there ?? page)?.focus()
  if (!there) void focusWhenThere(work, () => document.activeElement === page, MOST)
}
