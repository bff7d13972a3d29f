import { ref } from 'vue'
import type { TaskRow } from '#contract/tasks.ts'
import type { Carried, Landing } from '#web/drag/carry.ts'
import type { Place, Point } from '#web/drag/way.ts'
import { sayDate } from '#web/parts/say.ts'
import { useTasks } from '#web/state/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { useMayChange } from './may-change.ts'
import { dragged, nudged, type Drag, type Moved } from './span.ts'

/** Days that a task goes by with Alt and an arrow. */
const NUDGES: Readonly<Record<string, number>> = {
  ...{ ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 },
}

/** Saves where tasks were moved to, and says it. */
function usePut(known: () => Known) {
  const tasks = useTasks()
  const say = (date: string) => sayDate(date, known().today)
  const span = ({ start, due }: Pick<Moved, 'start' | 'due'>) =>
    start && start !== due ? `from ${say(start)} to ${say(due)}` : `to ${say(due)}`
  async function put({ id, start, due }: Moved): Promise<void> {
    const task = tasks.rows.get(id)
    if (!task || (due === task.due && start === task.start)) return
    const edit = { due, ...(start !== task.start && { start }) }
    await tasks.edit(id, edit, { due, start }, (t) =>
      t.start && t.start !== t.due
        ? `“${t.title}” is ${span({ start: t.start, due: t.due! })}.`
        : `“${t.title}” moved to ${say(t.due!)}.`,
    )
  }
  return { put, span }
}

/**
 * Moving and stretching tasks over days: carried, or with Alt and the arrows, up and down by weeks.
 * `dayAt` says how many days from the first day of a surface a point lies.
 */
export function useDayMoves(
  known: () => Known,
  dayAt: (point: Point) => number | null,
  grain: () => Place['grain'],
) {
  const mayChange = useMayChange()
  const tasks = useTasks()
  const { put, span } = usePut(known)
  /** Where what is carried would come to lie. */
  const moving = ref<Moved | null>(null)
  /** A task, or an edge of it, as what is picked up. */
  const carry = (task: TaskRow, part: Drag['part'] = 'whole'): Carried | false =>
    mayChange.value && {
      ...{ kind: part === 'whole' ? 'task' : 'edge', part },
      ...{ id: task.id, name: task.title },
    }
  function movedTo({ id, part }: Carried, at: Point, from: Point): Moved | null {
    const task = tasks.rows.get(Number(id))
    const [begun, now] = [dayAt(from), dayAt(at)]
    if (!task?.due || begun === null || now === null) return null
    const { start, due } = task
    return dragged(
      { id: task.id, part: (part ?? 'whole') as Drag['part'], start, due },
      now - begun,
    )
  }
  const landing: Landing = {
    takes: ({ kind, id }) =>
      (kind === 'task' || kind === 'edge') && tasks.rows.get(Number(id))?.due != null,
    over(carried, at, from) {
      moving.value = carried && movedTo(carried, at, from)
      return moving.value ? span(moving.value) : ''
    },
    land(carried, at, from) {
      const moved = movedTo(carried, at, from)
      if (moved) void put(moved)
    },
    grain,
  }
  /** Moves a task by keyboard; answers where to, once it is there, or null. */
  async function key(event: KeyboardEvent, task: TaskRow): Promise<Moved | null> {
    const by = event.altKey ? (NUDGES[event.key] ?? 0) : 0
    if (!by || !mayChange.value) return null
    event.preventDefault()
    const moved = nudged({ id: task.id, start: task.start, due: task.due! }, by, event.shiftKey)
    if (moved) await put(moved)
    return moved
  }
  return { moving, carry, landing, key }
}
