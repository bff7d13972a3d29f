/** What says something more to a pointer that rests on it, or to the focus. */
const SAYS = '[data-tip], [role=img][aria-label], .v-btn[aria-label]'

/** An element, and what is said beside it. */
export interface Tip {
  readonly on: HTMLElement
  readonly text: string
}

/**
 * What is said of an element, or of what it lies in: its `data-tip`, else the name of a picture or
 * of a button without words. Null: nothing that does not stand there already.
 */
export function tipOf(element: Element): Tip | null {
  const on = element.closest<HTMLElement>(SAYS)
  if (!on) return null
  const words = on.textContent.trim()
  const own = on.dataset['tip']
  const text = own ?? on.getAttribute('aria-label') ?? ''
  if (own === undefined && on.matches('.v-btn') && /\p{L}/u.test(words)) return null
  const isCut = on.scrollWidth > on.clientWidth
  return text === '' || (text === words && !isCut) ? null : { on, text }
}
