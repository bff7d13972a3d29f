import { useEventListener } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { useAttempt } from '#web/state/attempt.ts'
import { useFindBox } from '#web/state/findBox.ts'
import { useLetters } from '#web/state/letters.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Whether somebody is typing there, so that keys are theirs. */
const typesIn = (on: HTMLElement): boolean =>
  on.isContentEditable ||
  (/^(INPUT|TEXTAREA|SELECT)$/.test(on.tagName) && (on as HTMLInputElement).type !== 'checkbox')
/** Whether letters typed there begin an edit. */
const takesLetters = (on: HTMLElement): boolean => on.closest('[role$="grid"].cells') !== null
/** Whether a menu or a dialog lies over the page: keys are its own. */
const isCovered = (): boolean =>
  document.querySelector('.v-overlay--active:not(.v-snackbar, .v-tooltip)') !== null

/** Keys that hold anywhere: to find, to note, to take back what was done last. */
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
