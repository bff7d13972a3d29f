import { computed, ref } from 'vue'
import { sentence } from '#web/api/client.ts'
import { useMessages } from './messages.ts'

/**
 * What is tried on the server, and may be refused. What goes wrong is said at the foot of the page,
 * or `here`: then `wrong` holds the sentence until the next try.
 */
export function useAttempt(where: 'foot' | 'here' = 'foot') {
  const messages = useMessages()
  const underWay = ref(0)
  const wrong = ref('')
  /** Tries it; answers whether it was done. */
  async function attempt(work: () => Promise<unknown>): Promise<boolean> {
    underWay.value++
    wrong.value = ''
    try {
      await work()
      return true
    } catch (error) {
      if (where === 'here') wrong.value = sentence(error)
      else messages.fault(sentence(error))
      return false
    } finally {
      underWay.value--
    }
  }
  return { busy: computed(() => underWay.value > 0), wrong, attempt }
}
