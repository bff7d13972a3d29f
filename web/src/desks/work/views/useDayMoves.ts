import type { Ref } from 'vue'
import type { TaskRow } from '#contract/tasks.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { nudged, useDayDrag, type Drag, type Moved } from './span.ts'

/**
 * Moving and stretching tasks over days, by pointer or with Alt and the arrows; `dayAt` as
 * `useDayDrag` has it.
 */
export function useDayMoves(
  known: () => Known,
  dayAt: (event: PointerEvent) => number | null,
): {
  moving: Ref<Moved | null>
  press(event: PointerEvent, task: TaskRow, part: Drag['part']): void
  key(event: KeyboardEvent, task: TaskRow): void
} {
  const session = useSession()
  const tasks = useTasks()
  const say = (date: string) => sayDate(date, known().today)
  async function put(moved: Moved): Promise<void> {
    const task = tasks.rows.get(moved.id)
    if (!task) return
    const { start, due } = moved
    await tasks.edit(
      task.id,
      { due, ...(start !== task.start && { start }) },
      { due, start },
      (t) =>
        t.start && t.start !== t.due
          ? `“${t.title}” is from ${say(t.start)} to ${say(t.due!)}.`
          : `“${t.title}” moved to ${say(t.due!)}.`,
    )
  }
  const { moving, begin } = useDayDrag(dayAt, (moved) => void put(moved))
  function press(event: PointerEvent, task: TaskRow, part: Drag['part']): void {
    if (session.me?.may.member)
      begin(event, { id: task.id, part, start: task.start, due: task.due! })
  }
  function key(event: KeyboardEvent, task: TaskRow): void {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!by || !event.altKey || !session.me?.may.member) return
    event.preventDefault()
    const moved = nudged({ id: task.id, start: task.start, due: task.due! }, by, event.shiftKey)
    if (moved) void put(moved)
  }
  return { moving, press, key }
}
