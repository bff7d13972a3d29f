import { ref, watch, type Ref } from 'vue'
import type { Shelf } from '#web/forms/useForm.ts'
import { useSession } from './session.ts'

/**
 * Where something half written is kept for this tab and whoever is signed in: it is there again
 * after a session ended and began anew, and for nobody else.
 */
export function shelfFor(name: string): Shelf {
  const person = useSession().me?.id
  const place = `fernwick.draft/${person ?? 0}/${name}`
  return {
    get() {
      try {
        return sessionStorage.getItem(place)
      } catch {
        // Without storage it lives as long as the page.
        return null
      }
    },
    set(text) {
      try {
        if (text === null || text === '') sessionStorage.removeItem(place)
        else sessionStorage.setItem(place, text)
      } catch {
        // As above.
      }
    },
  }
}

/** A longer text being written: it is still there when one comes back to it, until it is emptied. */
export function useDraft(name: string): Ref<string> {
  const shelf = shelfFor(name)
  const text = ref(shelf.get() ?? '')
  watch(text, (now) => shelf.set(now))
  return text
}
