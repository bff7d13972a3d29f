import { nextTick } from 'vue'

/** What opens something: each says what, and comes next where the one before it is gone. */
const OPENERS = '[data-opens]'
export const isOpener = (el: HTMLElement): boolean => el.matches(OPENERS)
const isThere = (el: HTMLElement): boolean => el.isConnected && el.getClientRects().length > 0

/** What opened the menu that something lies in; itself, where it lies in none. */
function outside(from: HTMLElement): HTMLElement {
  for (let el: HTMLElement | null = from; el; el = el.parentElement) {
    const by = el.id && document.querySelector<HTMLElement>(`[aria-controls="${el.id}"]`)
    if (by && !el.contains(by)) return by
  }
  return from
}

/**
 * Gives the focus back to where it was before something was opened; where that is gone, to what
 * stood after it, or before it; else to the page.
 */
export function useFocusBack() {
  let places: HTMLElement[] = []
  let opened: string | undefined
  /** Notes where the focus is: call it before what is opened takes it. */
  function note(): void {
    const active = document.activeElement
    if (!(active instanceof HTMLElement) || active === document.body) return
    const from = outside(active)
    const all = [...document.querySelectorAll<HTMLElement>(OPENERS)]
    const at = all.indexOf(from)
    opened = from.dataset['opens']
    places = [from, ...(at < 0 ? [] : [...all.slice(at + 1), ...all.slice(0, at).reverse()])]
  }
  /** Gives it back once what was opened is gone. */
  async function giveBack(): Promise<void> {
    await nextTick()
    const [from, ...others] = places
    places = []
    // A line of a long list may stand for something else by now.
    const still = from && isThere(from) && from.dataset['opens'] === opened ? from : null
    const again = document.querySelector<HTMLElement>(`[data-opens="${opened ?? ''}"]`)
    const to = still ?? (again && isThere(again) ? again : others.find(isThere))
    ;(to ?? document.getElementById('main'))?.focus({ preventScroll: !to })
  }
  return { note, giveBack }
}
