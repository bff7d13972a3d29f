import { useEventListener, useMutationObserver } from '@vueuse/core'

const FOCUSABLE = 'a[href], button, input, textarea, select, [tabindex]:not([tabindex="-1"])'
const frame = () => new Promise((then) => requestAnimationFrame(then))
const canHold = (el: HTMLElement): boolean =>
  !el.matches(':disabled, [inert] *') && el.getClientRects().length > 0

/**
 * Keeps the keys where they are: what had the focus may be taken away, or may not be pressed any
 * more once it was, and the browser then puts the focus nowhere. It goes to what stands nearest.
 */
export function useFocusKept(): void {
  let last: HTMLElement | null = null
  let around: HTMLElement[] = []
  let waiting = false
  useEventListener(document, 'focusin', ({ target }) => {
    last = target as HTMLElement
    around = []
    for (let el = last.parentElement; el && el.id !== 'main'; el = el.parentElement) around.push(el)
  })
  // Whoever presses beside everything means nothing to have the focus.
  useEventListener(document, 'pointerdown', () => (last = null))
  const isLost = () =>
    last !== null &&
    document.activeElement === document.body &&
    (!last.isConnected || last.matches(':disabled'))

  function nearest(): HTMLElement | null {
    for (const el of around) {
      if (!el.isConnected || el.querySelector('#main')) continue
      const found = [...el.querySelectorAll<HTMLElement>(FOCUSABLE)].find(canHold)
      if (found) return found
    }
    return document.getElementById('main')
  }
  async function keep(): Promise<void> {
    if (waiting || !isLost()) return
    waiting = true
    // Whatever knows better where it belongs goes first.
    for (let i = 0; i < 3; i++) await frame()
    waiting = false
    if (isLost()) nearest()?.focus({ preventScroll: true })
  }
  useMutationObserver(document.documentElement, () => void keep(), {
    childList: true,
    subtree: true,
    attributeFilter: ['disabled'],
  })
}
