import { useLocalStorage } from '@vueuse/core'
import { useSession } from './session.ts'

/**
 * Whether single letters do something wherever nobody types, as each person keeps it here: they can
 * be switched off for whoever speaks or hits keys by chance (WCAG 2.2, 2.1.4).
 */
export function useLetters() {
  const session = useSession()
  return useLocalStorage(() => `fernwick.letters.${session.me?.id ?? 0}`, true)
}
