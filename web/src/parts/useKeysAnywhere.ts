import { useEventListener } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { useAttempt } from '#web/state/attempt.ts'
import { useFindBox } from '#web/state/findBox.ts'
import { useLetters } from '#web/state/letters.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { toWork, work } from './to-work.ts'
import { typesIn } from './types-in.ts'

/** Whether letters typed there begin an edit. */
const takesLetters = (on: HTMLElement): boolean => on.closest('[role$="grid"].cells') !== null
/** Whether a menu or a dialog lies over the page: keys are its own. */
const isCovered = (): boolean =>
  document.querySelector('.v-overlay--active:not(.v-snackbar, .v-tooltip)') !== null

/** Whether nothing on the page has the focus yet. */
const isAtStart = (on: HTMLElement): boolean => on === document.body || on.id === 'main'

/** Keys that hold anywhere: to find, to note, to come to the work, to take back what was done last. */
export function useKeysAnywhere(): void {
  const session = useSession()
  const find = useFindBox()
  const messages = useMessages()
  const router = useRouter()
  const letters = useLetters()
  const { attempt } = useAttempt()
  const LETTERS: Readonly<Record<string, () => unknown>> = {
    '/': () => find.show(),
    n: () => session.me?.may.member && find.show('', true),
    w: toWork,
    '?': () => router.push('/keys'),
  }
  const CONTROLS: Readonly<Record<string, () => unknown>> = {
    k: () => find.show(),
    z: () => attempt(messages.undoLast),
  }
  function does(event: KeyboardEvent): (() => unknown) | undefined {
    const on = event.target as HTMLElement
    if (event.ctrlKey || event.metaKey)
      return event.shiftKey || (event.key === 'z' && typesIn(on)) ? undefined : CONTROLS[event.key]
    if (event.key === 'ArrowDown') return isAtStart(on) && work() ? toWork : undefined
    return letters.value && !typesIn(on) && !takesLetters(on) ? LETTERS[event.key] : undefined
  }
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (!session.me || event.defaultPrevented || event.altKey || isCovered()) return
    const then = does(event)
    if (!then) return
    event.preventDefault()
    void then()
  })
}
