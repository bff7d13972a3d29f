import type { TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { needOnTask } from '../access/levels.ts'
import { cleanRich, tellMentioned } from '../talk/rich.ts'
import { commentOf } from './queries.ts'
import { needSight, taskSheet } from './service.ts'

export function addComment(
  engine: Engine,
  viewer: Viewer,
  taskId: TaskId,
  body: string,
): Changed<TaskSheet> {
  needSight(engine, viewer, taskId)
  needOnTask(engine, viewer, taskId, 'comment', 'comment on this')
  const clean = cleanRich(body) || refuse('empty', 'There is nothing in this comment.', 'body')
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    write.insert('comments', { taskId, authorId: viewer.id, body: clean, at: write.at })
    tellMentioned(engine, write, taskId, clean)
  })
  return { result: taskSheet(engine, viewer, taskId), change }
}

/** Rewords one's own comment; an empty one is taken away. */
export function editComment(
  engine: Engine,
  viewer: Viewer,
  { taskId, id }: { taskId: TaskId; id: number },
  body: string,
): Changed<TaskSheet> {
  needSight(engine, viewer, taskId)
  needOnTask(engine, viewer, taskId, 'comment', 'change what you said')
  const row = commentOf.get(engine.reader, { id, task: taskId })
  if (!row) refuse('not-found', 'That comment is gone; someone removed it.')
  if (row.authorId !== viewer.id) refuse('forbidden', 'Only who wrote a comment may change it.')
  const clean = cleanRich(body)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (!clean) return write.remove('comments', id)
    write.update('comments', row, { body: clean })
    tellMentioned(engine, write, taskId, clean, row.body)
  })
  return { result: taskSheet(engine, viewer, taskId), change }
}
