import { nextTick } from 'vue'

/** What opens something: each says what, and comes next where the one before it is gone. */
const OPENERS = '[data-opens]'
export const isOpener = (el: HTMLElement): boolean => el.matches(OPENERS)
const isThere = (el: HTMLElement): boolean => el.isConnected && el.getClientRects().length > 0

const opener = (id: string | undefined): HTMLElement | null =>
  document.querySelector(`[data-opens="${id ?? ''}"]`)
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
  let from: HTMLElement | null = null
  /** What it opened, then what stood after it, then what stood before it. */
  let ids: (string | undefined)[] = []
  const idOf = (el: HTMLElement) => el.dataset['opens']
  /** Notes where the focus is: call it before what is opened takes it. */
  function note(): void {
    const active = document.activeElement
    if (!(active instanceof HTMLElement) || active === document.body) return
    from = outside(active)
    const all = [...document.querySelectorAll<HTMLElement>(OPENERS)].map(idOf)
    const at = all.indexOf(idOf(from))
    ids = at < 0 ? [] : [...all.slice(at), ...all.slice(0, at).reverse()]
  }
  /** Gives it back once what was opened is gone. */
  async function giveBack(): Promise<void> {
    await nextTick()
    // A line of a long list may stand for something else by now.
    const still = from && isThere(from) && idOf(from) === ids[0] ? from : undefined
    const to = still ?? ids.map(opener).find((el) => el && isThere(el))
    from = null
    ;(to ?? document.getElementById('main'))?.focus({ preventScroll: !to })
  }
  return { note, giveBack }
}
