import { defineStore } from 'pinia'
import { ref } from 'vue'

/**
 * Whether the box to find, go, do and note is open, what stands in it, and whether it was opened to
 * note something.
 */
export const useFindBox = defineStore('findBox', () => {
  const open = ref(false)
  const start = ref('')
  const noting = ref(false)
  function show(text = '', note = false): void {
    start.value = text
    noting.value = note
    open.value = true
  }
  return { open, start, noting, show, close: () => (open.value = false) }
})
