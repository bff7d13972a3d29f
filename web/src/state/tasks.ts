import { defineStore } from 'pinia'
import { ref, shallowReactive } from 'vue'
import type { TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'
import { answeredAt, get, patch, sentence } from '#web/api/client.ts'
import { BREATH } from './again.ts'
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

/** What is wanted of rows, asked for in batches; what grew old is asked for when it is wanted. */
function askedRows({ rows, fetchRows, holds }: ReturnType<typeof heldRows>) {
  const messages = useMessages()
  const wanted = new Set<number>()
  /** Rows that are shown as they were until somebody needs them again, and what made them old. */
  const stale = new Map<number, number>()
  /** Moves on when rows went stale: what is on show then asks again. */
  const turn = ref(0)
  let asking = false

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
  /** Rows whose edits are under way: their answers may hold what was told meanwhile. */
  const saving: number[] = []
  const isStale = (id: number): boolean => {
    const at = stale.get(id)
    return at !== undefined && !saving.includes(id) && !holds(id, at)
  }
  /** Asks for nothing of a row while `work` saves it. */
  async function whileSaving<T>(id: number, work: () => Promise<T>): Promise<T> {
    saving.push(id)
    try {
      return await work()
    } finally {
      saving.splice(saving.indexOf(id), 1)
      if (isStale(id)) turn.value++
    }
  }
  /** Asks for the rows that are not here yet, or not any more as they are. */
  function need(ids: readonly number[]): void {
    const more = ids.filter((id) => (!rows.has(id) || isStale(id)) && !wanted.has(id))
    for (const id of more) wanted.add(id)
    if (more.length) void ask()
  }
  function outdated(ids: readonly number[], at: number, wait: number): void {
    for (const id of ids) stale.set(id, at)
    if (ids.length) setTimeout(() => turn.value++, wait)
  }
  return { turn, need, outdated, whileSaving }
}

/**
 * Rows of tasks by number, asked for as views come to need them and kept fresh while any of them is
 * open.
 */
export const useTasks = defineStore('tasks', () => {
  const held = heldRows()
  const { rows, put, holds } = held
  const { turn, need, outdated, whileSaving } = askedRows(held)
  const messages = useMessages()

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
      const task = await whileSaving(id, async () => {
        const saved = await patch<TaskSheet>(`/tasks/${id}`, change)
        put(saved)
        return saved
      })
      messages.did(said(task), task)
      return true
    } catch (error) {
      if (before) rows.set(id, before)
      // Somebody else's newer row may have come meanwhile: it is asked for again.
      outdated([id], Infinity, 0)
      messages.fault(sentence(error))
      return false
    }
  }

  // For as long as the application runs: what others change is asked for again, if it is on show;
  // what one has just changed oneself is known.
  useLive().subscribe((change) => {
    const all = isEverything(change)
    const old = [...(all ? rows.keys() : change.tasks)].filter(
      (id) => rows.has(id) && !holds(id, change.at),
    )
    outdated(old, change.at, BREATH + (all ? change.spread * Math.random() : 0))
  })
  return { rows, turn, need, put, edit }
})
