import { useEventListener } from '@vueuse/core'

/** A field in which one thing is chosen by typing. */
const CHOOSES = '.v-autocomplete:not(.v-autocomplete--multiple) input'

/** What is chosen already is typed over, not on, however the focus came to it. */
export function useTypedOver(): void {
  useEventListener(document, 'focusin', ({ target }) => {
    if (!(target instanceof HTMLInputElement) || !target.matches(CHOOSES)) return
    // The field writes there what is chosen once it has the focus.
    requestAnimationFrame(() => document.activeElement === target && target.select())
  })
}
