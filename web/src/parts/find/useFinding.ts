import { useDebounceFn } from '@vueuse/core'
import { nextTick, ref, watch, type Ref } from 'vue'
import type { Found } from '#contract/find.ts'
import { get, sentence } from '#web/api/client.ts'
import { useMessages } from '#web/state/messages.ts'

/** So many milliseconds without a key, and the words are asked for. */
const PAUSE = 90
/** Words that are worth asking for: two letters, or a number. */
const isSought = (words: string): boolean => words.length >= 2 || /^#?\d+$/.test(words)

/**
 * Asks for words as they are typed. Titles come first, then everything in its order; an answer that
 * was overtaken by other words is dropped. `shown` hears of each answer before it is shown, and
 * answers what is to be done after it; `first` is called where Enter came before the answer did.
 */
export function useFinding(
  text: Readonly<Ref<string>>,
  { shown, first }: { shown: () => () => void; first: () => void },
) {
  const messages = useMessages()
  const found = ref<readonly Found[]>([])
  const asking = ref(false)
  /** Enter was pressed before the answer was there. */
  const hasty = ref(false)
  let turn = 0

  function show(answer: readonly Found[]): void {
    const after = shown()
    found.value = answer
    after()
  }
  const ask = useDebounceFn(async (words: string) => {
    const mine = ++turn
    const sought = `words=${encodeURIComponent(words)}`
    const take = (answer: readonly Found[]) => mine === turn && show(answer)
    try {
      // Everything may come before the titles do.
      get<Found[]>(`/find/first?${sought}`).then(
        (answer) => void (asking.value && answer.length && take(answer)),
        () => undefined,
      )
      take(await get<Found[]>(`/find?${sought}`))
    } catch (error) {
      if (mine !== turn) return
      hasty.value = false
      messages.fault(sentence(error))
    } finally {
      if (mine === turn) asking.value = false
    }
  }, PAUSE)
  watch(text, (typed) => {
    const words = typed.trim()
    hasty.value = false
    asking.value = isSought(words)
    if (asking.value) return void ask(words)
    turn++
    found.value = []
  })
  watch(asking, (on) => {
    if (on || !hasty.value) return
    hasty.value = false
    void nextTick(first)
  })
  return { found, asking, hasten: () => void (hasty.value = true) }
}
