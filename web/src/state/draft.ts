import { ref, watch, type Ref } from 'vue'

/**
 * A longer text being written: it is still there when one comes back to it, until it is emptied.
 * Kept for this tab.
 */
export function useDraft(name: string): Ref<string> {
  const place = `fernwick.draft.${name}`
  const text = ref('')
  try {
    text.value = sessionStorage.getItem(place) ?? ''
  } catch {
    // Without storage it lives as long as the page.
  }
  watch(text, (now) => {
    try {
      if (now) sessionStorage.setItem(place, now)
      else sessionStorage.removeItem(place)
    } catch {
      // As above.
    }
  })
  return text
}
