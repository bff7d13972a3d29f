import { plural, sayDate } from '#core/text/speak.ts'
import type { Database } from '../../database/open.ts'
import type { Entry, Follower } from '../../engine/journal.ts'
import type { Firm } from '../../engine/firm.ts'

/** A change of more tasks than this is told in one notice. */
const FEW = 3

const FOLLOWERS =
  'select x.personId from taskFollowers x join people w on w.id = x.personId and w.active = 1 where x.taskId = @taskId'

/** What followers want to hear of one entry, or null. */
function news(db: Database, firm: Firm, entry: Entry): string | null {
  if (entry.entity === 'attachments' && entry.action === 'made' && entry.taskId !== null)
    return 'has a new file'
  if (entry.entity !== 'tasks' || entry.action !== 'changed' || !entry.after) return null
  if ('stateId' in entry.after) {
    const state = db.prepare('select name from states where id = ?').get(entry.after['stateId']) as
      { name: string } | undefined
    return state ? `is now “${state.name}”` : null
  }
  if ('due' in entry.after)
    return entry.after['due']
      ? `is now due ${sayDate(String(entry.after['due']), firm.today())}`
      : 'has no due date now'
  return null
}

/**
 * Tells the followers of a task what happened to it, but for comments (see noticesFor); never the
 * one who did it.
 */
export function tellFollowers(db: Database, firm: Firm): Follower {
  return (write, entries) => {
    const told = new Map<number, Map<number, string>>()
    for (const entry of entries) {
      const taskId = entry.taskId
      if (taskId === null) continue
      const text = news(db, firm, entry)
      if (text === null) continue
      const who = db.prepare(FOLLOWERS).all({ taskId }) as { personId: number }[]
      for (const { personId } of who) {
        if (write.actor.kind === 'person' && write.actor.id === personId) continue
        const mine = told.get(personId) ?? new Map<number, string>()
        told.set(personId, mine)
        if (!mine.has(taskId)) mine.set(taskId, text)
      }
    }
    for (const [personId, tasks] of told) {
      if (tasks.size > FEW)
        write.insert('notices', {
          personId,
          kind: 'follow',
          body: `${plural(tasks.size, 'task')} you follow changed at once`,
          taskId: null,
          at: write.at,
        })
      else
        for (const [taskId, text] of tasks) {
          const task = db.prepare('select title from tasks where id = ?').get(taskId) as
            { title: string } | undefined
          if (task)
            write.insert('notices', {
              personId,
              kind: 'follow',
              body: `“${task.title}” ${text}`,
              taskId,
              at: write.at,
            })
        }
    }
  }
}
