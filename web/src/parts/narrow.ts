import { computed, type ComputedRef } from 'vue'
import { useDisplay } from 'vuetify'

/** Up to this width of the window, in CSS pixels, nothing stands beside the page: as in base.css. */
const NARROW = 900
export function useNarrow(): ComputedRef<boolean> {
  const { width } = useDisplay()
  return computed(() => width.value <= NARROW)
}
