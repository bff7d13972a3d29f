import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from './session.ts'

/**
 * Whether the days above the desks are folded to a line, as each person keeps it here: open on
 * Today, folded elsewhere until they say otherwise.
 */
export function useRibbonFold() {
  const route = useRoute()
  const session = useSession()
  const where = computed(() => (route.path.startsWith('/today') ? 'today' : 'elsewhere'))
  const kept = useLocalStorage<Record<string, boolean>>(
    () => `fernwick.ribbon.${session.me?.id ?? 0}`,
    {},
  )
  return computed({
    get: () => kept.value[where.value] ?? where.value !== 'today',
    set: (folded) => void (kept.value = { ...kept.value, [where.value]: folded }),
  })
}
