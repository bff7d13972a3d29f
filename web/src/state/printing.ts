import { nextTick, ref } from 'vue'

/** While a page is printed: lists that draw only what is in sight draw everything. */
export const printing = ref(false)

/** Prints what is shown, whole. */
export async function printAll(): Promise<void> {
  printing.value = true
  await nextTick()
  // Rows that were never in sight are asked for first.
  await new Promise((done) => setTimeout(done, 900))
  window.print()
  printing.value = false
}
