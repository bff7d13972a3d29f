import type { PersonId, TaskId } from '#core/brands.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { Reader } from '../../database/query.ts'
import { taskOf, type Deriver, type Entry, type Writer } from '../../engine/journal.ts'
import type { Firm } from '../../engine/firm.ts'
import { titleOf } from '../talk/queries.ts'
import { activeFollowers, stateName } from './queries.ts'

/** A change of more tasks than this is told in one notice. */
const FEW = 3

/** What followers want to hear of one entry, or null. */
function news(reader: Reader, firm: Firm, { entity, action, after, item }: Entry): string | null {
  if (entity === 'attachments' && action === 'made' && item?.kind === 'task')
    return 'has a new file'
  if (entity !== 'tasks' || action !== 'changed' || !after) return null
  const { stateId, due } = after
  if (typeof stateId === 'number') {
    const state = stateName.get(reader, { id: stateId })
    return state ? `is now “${state.name}”` : null
  }
  if (due === undefined) return null
  return due === null ? 'has no due date now' : `is now due ${sayDate(String(due), firm.today())}`
}

/** The news of a change by follower and task, the first of each; never for the one who did it. */
function newsByFollower(reader: Reader, firm: Firm, write: Writer, entries: readonly Entry[]) {
  const told = new Map<PersonId, Map<TaskId, string>>()
  const self = write.actor.kind === 'person' ? write.actor.id : null
  for (const entry of entries) {
    const taskId = taskOf(entry)
    const text = taskId === null ? null : news(reader, firm, entry)
    if (taskId === null || text === null) continue
    for (const { personId } of activeFollowers.all(reader, { task: taskId })) {
      if (personId === self) continue
      const mine = told.get(personId) ?? new Map<TaskId, string>()
      told.set(personId, mine)
      if (!mine.has(taskId)) mine.set(taskId, text)
    }
  }
  return told
}

/** Tells the followers of a task what happened to it, but for comments (see noticesFor). */
export const tellFollowers =
  (reader: Reader, firm: Firm): Deriver =>
  (write, entries) => {
    for (const [personId, tasks] of newsByFollower(reader, firm, write, entries)) {
      const notice = { personId, kind: 'follow', at: write.at } as const
      if (tasks.size > FEW) {
        const body = `${plural(tasks.size, 'task')} you follow changed at once`
        write.insert('notices', { ...notice, body })
        continue
      }
      for (const [taskId, text] of tasks) {
        const task = titleOf.get(reader, { id: taskId })
        if (!task) continue
        const body = `“${task.title}” ${text}`
        write.insert('notices', { ...notice, body, itemKind: 'task', itemId: taskId })
      }
    }
  }
