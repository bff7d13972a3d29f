import { defineStore } from 'pinia'
import { ref, shallowReactive } from 'vue'
import type { TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'
import { answeredAt, get, patch, sentence } from '#web/api/client.ts'
import { isEverything, useLive } from './live.ts'
import { useMessages } from './messages.ts'

/** Rows asked for in one go. */
const BATCH = 300

/** Rows that are here, each with the mark that it was answered at. */
function heldRows() {
  const rows = shallowReactive(new Map<number, TaskRow>())
  const marks = new Map<number, number>()
  function take(task: TaskRow, at: number): void {
    rows.set(task.id, task)
    marks.set(task.id, at)
  }
  const put = (task: TaskRow): void => take(task, answeredAt(task))
  /** Asks for rows; those that are not answered are no longer to be seen. */
  async function fetchRows(ids: readonly number[]): Promise<void> {
    const answer = await get<{ tasks: TaskRow[] }>(`/tasks?ids=${ids.join(',')}`)
    const found = new Set(answer.tasks.map((task) => task.id))
    for (const task of answer.tasks) take(task, answeredAt(answer))
    for (const id of ids) if (!found.has(id)) rows.delete(id)
  }
  /** Whether what is told at a mark is in a row already. */
  const holds = (id: number, at: number): boolean => (marks.get(id) ?? 0) >= at
  return { rows, put, fetchRows, holds }
}

/**
 * Rows of tasks by number, asked for as views come to need them and kept fresh while any of them is
 * open.
 */
export const useTasks = defineStore('tasks', () => {
  const { rows, put, fetchRows, holds } = heldRows()
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
        await fetchRows(ids)
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
      put(task)
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

  // For as long as the application runs: what others change is asked for again, if it is on show;
  // what one has just changed oneself is known.
  useLive().subscribe((change) => {
    const all = isEverything(change)
    for (const id of all ? rows.keys() : change.tasks)
      if (rows.has(id) && !holds(id, change.at)) stale.add(id)
    if (stale.size) setTimeout(() => turn.value++, all ? change.spread * Math.random() : 0)
  })
  return { rows, turn, need, put, edit }
})
