import type { Follower } from '../../engine/journal.ts'
import type { Database } from '../../database/open.ts'

/** Keeps the date of entering each state, whoever moved the task: people, rules, undo. */
export function stateDates(db: Database): Follower {
  return (write, entries) => {
    for (const entry of entries) {
      if (entry.entity !== 'tasks' || entry.action === 'removed' || !entry.after) continue
      if (entry.action === 'changed' && !('stateId' in entry.after) && !('state' in entry.after))
        continue
      const task = db
        .prepare('select stateId, state from tasks where id = ?')
        .get(entry.entityId) as { stateId: number | null; state: string } | undefined
      if (task)
        write.insert('stateDates', {
          taskId: entry.entityId,
          stateId: task.stateId,
          kind: task.state,
          at: entry.at,
        })
    }
  }
}
