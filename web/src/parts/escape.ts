/** Whether a menu or dialog is open that the target is not in: that one closes first. */
const under = (target: EventTarget | null): boolean =>
  [...document.querySelectorAll('.v-overlay--active:not(.v-snackbar, .v-tooltip)')].some(
    (overlay) => !overlay.contains(target as Node | null),
  )
/** Presses of Esc that close a menu or dialog: noted before it is gone. */
const taken = new WeakSet<Event>()
if (typeof window !== 'undefined')
  window.addEventListener(
    'keydown',
    (event) => void (event.key === 'Escape' && under(event.target) && taken.add(event)),
    { capture: true },
  )

/**
 * Esc closes one thing at a time, the innermost. Whoever answers it keeps it to itself; an answer of
 * false passes it on, and what stands behind an open menu or dialog leaves it alone.
 */
export function escapes(event: KeyboardEvent, answer: () => unknown): void {
  if (event.key !== 'Escape' || event.defaultPrevented || taken.has(event)) return
  if (answer() === false) return
  event.preventDefault()
  event.stopPropagation()
}
