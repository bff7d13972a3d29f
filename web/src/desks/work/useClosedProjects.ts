import { useDebounceFn } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import type { ClosedProjects } from '#contract/projects.ts'
import type { ProjectRow } from '#contract/desks.ts'
import { get, sentence } from '#web/api/client.ts'
import { isEverything, onChange } from '#web/state/live.ts'

/** Projects that are finished or archived, newest first, asked for a page at a time. */
export function useClosedProjects(
  part: Ref<'running' | 'finished' | 'archived'>,
  words: Ref<string>,
) {
  const rows = ref<ProjectRow[]>([])
  const next = ref<string | null>(null)
  const known = ref(false)
  const error = ref<string | null>(null)
  let turn = 0

  async function ask(cursor: string | null): Promise<void> {
    if (part.value === 'running') return
    const mine = ++turn
    const q = new URLSearchParams({ part: part.value })
    if (words.value.trim()) q.set('words', words.value.trim())
    if (cursor !== null) q.set('cursor', cursor)
    try {
      const found = await get<ClosedProjects>(`/projects/closed?${q}`)
      // An answer that was overtaken by a newer question is dropped.
      if (mine !== turn) return
      rows.value = cursor === null ? [...found.projects] : [...rows.value, ...found.projects]
      next.value = found.next
      error.value = null
      known.value = true
    } catch (problem) {
      if (mine === turn) error.value = sentence(problem)
    }
  }
  const again = () => ask(null)
  const soon = useDebounceFn(again, 200)
  watch(part, () => {
    known.value = false
    rows.value = []
    void again()
  })
  watch(words, () => void soon())
  onChange((change) => {
    if (change.entities.includes('projects') || isEverything(change)) void soon()
  })
  return { rows, next, known, error, again, more: () => ask(next.value) }
}
