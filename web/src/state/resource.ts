import { useDebounceFn } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import { ApiProblem, get, sentence } from '#web/api/client.ts'
import { onChange, type Change } from './live.ts'

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
  concerns: (change: Change) => boolean = () => true,
  options: { keep?: boolean } = {},
): Resource<T> {
  const data = ref<T | null>(null) as Ref<T | null>
  const error = ref<string | null>(null)
  let asked = 0
  async function reload(): Promise<void> {
    const where = path()
    if (where === null) return
    const turn = ++asked
    try {
      const answer = await get<T>(where)
      if (turn !== asked) return
      data.value = answer
      error.value = null
    } catch (problem) {
      if (turn !== asked) return
      error.value = sentence(problem)
      // What is gone is not shown any longer.
      if (problem instanceof ApiProblem && problem.problem.status === 404) data.value = null
    }
  }
  watch(
    path,
    (now, before) => {
      if (now !== before && !options.keep) data.value = null
      void reload()
    },
    { immediate: true },
  )
  const soon = useDebounceFn(() => void reload(), 120, { maxWait: 600 })
  onChange((change) => {
    if (change.entities.includes('all') || concerns(change)) void soon()
  })
  return { data, error, reload }
}
