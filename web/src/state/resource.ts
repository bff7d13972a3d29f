import { useQuery, useQueryCache } from '@pinia/colada'
import { computed, type Ref } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import { answeredAt, ApiProblem, get, sentence } from '#web/api/client.ts'
import { useAgain, type Concern } from './again.ts'
import { isEverything, onChange, useLive } from './live.ts'
import { useSession } from './session.ts'

interface Resource<T> {
  /** What was answered; what is put in its place is shown until the next answer. */
  readonly data: Ref<T | null>
  readonly error: Ref<string | null>
  reload(): Promise<void>
  /** It was changed here: it is asked for with all else that hears of that. */
  touched(): void
}

/** How long an answer is good for, in milliseconds, while nothing is told that makes it old. */
const GOOD_FOR = 60_000

/**
 * What a page shows, kept fresh: asked for when the path changes and when the server says that
 * something it depends on has. An answer is kept, for whoever is signed in, when its page is left:
 * who comes back sees it at once, and it is asked for again only if something changed meanwhile.
 * Two that ask the same ask once. With `keep`, what is shown stays until the new answer is here.
 */
export function useResource<T>(
  path: () => string | null,
  concerns: (change: LiveChange, data: T | null) => Concern | boolean = () => true,
  options: { keep?: boolean } = {},
): Resource<T> {
  const session = useSession()
  const live = useLive()
  const cache = useQueryCache()
  const key = () => [session.me?.id ?? 0, path() ?? '']
  const query = useQuery<T, unknown>(() => ({
    key: key(),
    enabled: path() !== null,
    query: ({ signal, entry }) => get<T>(String(entry.key[1]), signal),
    // Without a line nobody would say that it is old.
    staleTime: live.connected ? GOOD_FOR : 0,
    ...(options.keep && { placeholderData: (before: T | undefined) => before }),
  }))
  // What is gone is not shown any longer.
  const gone = () =>
    query.error.value instanceof ApiProblem && query.error.value.problem.status === 404
  const data = computed({
    get: () => ((path() === null && !options.keep) || gone() ? null : (query.data.value ?? null)),
    set: (next) => {
      if (next === null) return
      // What was asked before this was answered knows less.
      cache.cancelQueries({ key: key(), exact: true })
      cache.setQueryData(key(), next)
    },
  })
  const error = computed(() => (query.error.value === null ? null : sentence(query.error.value)))
  const held = () => (query.error.value ? 0 : answeredAt(query.data.value))
  const again = useAgain(async () => {
    if (path() !== null) await query.refetch()
    return 0
  }, held)
  onChange((change) => {
    const concern = isEverything(change) || concerns(change, data.value)
    again.hear(change, concern === true ? 'now' : concern)
  })
  return { data, error, reload: again.now, touched: again.soon }
}

/** For as long as the application runs: what is kept and not on show grows old by what is told. */
export function useOldAnswers(): void {
  const cache = useQueryCache()
  onChange(({ at }) => {
    const old = cache.getEntries({
      active: false,
      predicate: ({ state }) => answeredAt(state.value.data) < at,
    })
    for (const entry of old) cache.invalidate(entry)
  })
}
