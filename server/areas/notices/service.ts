import type { Entry, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { refuse } from '#core/refusal.ts'
import { mentioned, plainText } from '#core/text/rich.ts'
import { personName } from '../people/queries.ts'

export interface NoticeRow {
  id: number
  kind: string
  body: string
  taskId: number | null
  at: number
  readAt: number | null
}

export const listNotices = (engine: Engine, viewer: Viewer): NoticeRow[] =>
  engine.db
    .prepare(
      'select id, kind, body, taskId, at, readAt from notices where personId = ? order by id desc limit 200',
    )
    .all(viewer.id) as NoticeRow[]

export const unread = (engine: Engine, viewer: Viewer): number =>
  (
    engine.db
      .prepare('select count(*) as n from notices where personId = ? and readAt is null')
      .get(viewer.id) as { n: number }
  ).n

/** Marks one notice read, or all of a person's when no id is given. */
export function markRead(engine: Engine, viewer: Viewer, id: number | null): void {
  const ids = engine.db
    .prepare(
      'select id from notices where personId = @person and readAt is null and (@id is null or id = @id)',
    )
    .all({ person: viewer.id, id }) as {
    id: number
  }[]
  if (
    id !== null &&
    !engine.db.prepare('select 1 from notices where id = ? and personId = ?').get(id, viewer.id)
  )
    refuse('not-found', 'That notice is not yours, or is gone.')
  engine.journal.change(actorOf(viewer), (write) =>
    ids.forEach((n) => write.update('notices', n.id, { readAt: write.at })),
  )
}

/** What the journal makes people hear of: work given to them, and comments on their work. */
export function noticesFor(engine: Engine, write: Writer, entry: Entry): void {
  if (entry.action !== 'made' || entry.taskId === null || entry.actor.kind === 'import') return
  const by = entry.actor.kind === 'person' ? entry.actor.id : null
  const task = engine.db
    .prepare('select title, creatorId, closedAt from tasks where id = ?')
    .get(entry.taskId) as
    { title: string; creatorId: number | null; closedAt: number | null } | undefined
  if (!task) return
  const from = by === null ? 'Fernwick' : (personName(engine, by) ?? 'Someone')
  if (entry.entity === 'taskAssignees') {
    const personId = entry.after?.['personId'] as number
    if (personId !== by && task.closedAt === null)
      write.insert('notices', {
        personId,
        kind: 'assigned',
        body: `${from} gave you “${task.title}”`,
        taskId: entry.taskId,
        at: write.at,
      })
  } else if (entry.entity === 'comments') {
    // All who have to do with the task and are still here; who is named in the comment is told of
    // that already.
    const people = engine.db
      .prepare(
        `select id from people where active = 1 and id in (select personId from taskAssignees where taskId = @id
         union select personId from taskFollowers where taskId = @id union select creatorId from tasks where id = @id)`,
      )
      .pluck()
      .all({ id: entry.taskId }) as number[]
    const html = String(entry.after?.['body'] ?? '')
    const named = new Set(mentioned(html))
    const body = plainText(html)
    for (const personId of people)
      if (personId !== by && !named.has(personId))
        write.insert('notices', {
          personId,
          kind: 'comment',
          body: `${from} on “${task.title}”: ${body.length > 160 ? `${body.slice(0, 158)}…` : body}`,
          taskId: entry.taskId,
          at: write.at,
        })
  }
}
