import { defineStore } from 'pinia'
import { ref, shallowReactive } from 'vue'
import type { TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'
import { get, patch, sentence } from '#web/api/client.ts'
import { useLive } from './live.ts'
import { useMessages } from './messages.ts'

/** Rows asked for in one go. */
const BATCH = 300

/** Asks for rows; those that are not answered are no longer to be seen. */
async function fetchInto(rows: Map<number, TaskRow>, ids: readonly number[]): Promise<void> {
  const { tasks } = await get<{ tasks: TaskRow[] }>(`/tasks?ids=${ids.join(',')}`)
  const found = new Set(tasks.map((task) => task.id))
  for (const task of tasks) rows.set(task.id, task)
  for (const id of ids) if (!found.has(id)) rows.delete(id)
}

/**
 * Rows of tasks by number, asked for as views come to need them and kept fresh while any of them is
 * open.
 */
export const useTasks = defineStore('tasks', () => {
  const rows = shallowReactive(new Map<number, TaskRow>())
  const wanted = new Set<number>()
  /** Rows that are shown as they were until somebody needs them again. */
  const stale = new Set<number>()
  /** Moves on when rows went stale: what is on show then asks again. */
  const turn = ref(0)
  let asking = false
  const messages = useMessages()

  async function ask(): Promise<void> {
    if (asking) return
    asking = true
    try {
      // One turn of the loop gathers what a whole screen wants.
      await Promise.resolve()
      while (wanted.size) {
        const ids = [...wanted].slice(0, BATCH)
        for (const id of ids) {
          wanted.delete(id)
          stale.delete(id)
        }
        await fetchInto(rows, ids)
      }
    } catch (error) {
      messages.fault(sentence(error))
    } finally {
      asking = false
    }
  }
  /** Asks for the rows that are not here yet. */
  function need(ids: readonly number[]): void {
    const more = ids.filter((id) => (!rows.has(id) || stale.has(id)) && !wanted.has(id))
    for (const id of more) wanted.add(id)
    if (more.length) void ask()
  }
  const put = (task: TaskRow): void => void rows.set(task.id, task)

  /**
   * Shows an edit at once and saves it; what the server would not take is put back, and said.
   * Answers whether it was saved.
   */
  async function edit(
    id: number,
    change: TaskPatch,
    shown: Partial<TaskRow>,
    said: (task: TaskSheet) => string,
  ): Promise<boolean> {
    const before = rows.get(id)
    if (before) rows.set(id, { ...before, ...shown })
    try {
      const task = await patch<TaskSheet>(`/tasks/${id}`, change)
      rows.set(id, task)
      messages.did(said(task), task)
      return true
    } catch (error) {
      if (before) rows.set(id, before)
      // Somebody else's newer row may have come meanwhile: it is asked for again.
      stale.add(id)
      turn.value++
      messages.fault(sentence(error))
      return false
    }
  }

  // For as long as the application runs: what others change is asked for again, if it is on show.
  useLive().subscribe((change) => {
    for (const id of change.entities.includes('all') ? rows.keys() : change.tasks)
      if (rows.has(id)) stale.add(id)
    if (stale.size) turn.value++
  })
  return { rows, turn, need, put, edit }
})
