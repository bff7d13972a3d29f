/** What one comes to in the work of a page: the one stop of Tab in it, else what opens first. */
const FIRST = ['[tabindex="0"]:not(.heads *)', '[data-opens]', ':is(a, button, input)']

export function work(): HTMLElement | null {
  for (const of of FIRST) {
    const found = document.querySelector<HTMLElement>(`[data-work] ${of}`)
    if (found) return found
  }
  return null
}
/** Into the work of a page: its rows, slips or days, past all that stands above them. */
export const toWork = (): void => (work() ?? document.getElementById('main'))?.focus()
