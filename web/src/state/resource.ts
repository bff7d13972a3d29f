import { ref, watch, type Ref } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import { answeredAt, ApiProblem, get, sentence } from '#web/api/client.ts'
import { useAgain, type Concern } from './again.ts'
import { isEverything, onChange } from './live.ts'

interface Resource<T> {
  readonly data: Ref<T | null>
  readonly error: Ref<string | null>
  reload(): Promise<void>
}

/**
 * What a page shows, kept fresh: asked for when the path changes and when the server says that
 * something it depends on has. With `keep`, what is shown stays until the new answer is here.
 * Answers that were overtaken by a newer question are dropped.
 */
export function useResource<T>(
  path: () => string | null,
  concerns: (change: LiveChange, data: T | null) => Concern | boolean = () => true,
  options: { keep?: boolean } = {},
): Resource<T> {
  const data = ref<T | null>(null) as Ref<T | null>
  const error = ref<string | null>(null)
  let asked = 0
  /** Answers the mark of what is shown now; 0 where it is not to be relied on. */
  async function ask(): Promise<number> {
    const where = path()
    if (where === null) return 0
    const turn = ++asked
    try {
      const answer = await get<T>(where)
      if (turn !== asked) return 0
      data.value = answer
      error.value = null
      return answeredAt(answer)
    } catch (problem) {
      if (turn !== asked) return 0
      error.value = sentence(problem)
      // What is gone is not shown any longer.
      if (problem instanceof ApiProblem && problem.problem.status === 404) data.value = null
      return 0
    }
  }
  const again = useAgain(ask)
  watch(
    path,
    (now, before) => {
      if (now !== before && !options.keep) data.value = null
      void again.now()
    },
    { immediate: true },
  )
  onChange((change) => {
    const concern = isEverything(change) || concerns(change, data.value)
    again.hear(change, concern === true ? 'now' : concern)
  })
  return { data, error, reload: again.now }
}
