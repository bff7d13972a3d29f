import type { PersonId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { mentioned, plainText } from '#core/text/rich.ts'
import type { NoticeRow } from '#contract/desks.ts'
import type { Reader } from '../../database/query.ts'
import { taskOf, type Changed, type Entry, type Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { personName } from '../people/queries.ts'
import { titleOf } from '../talk/queries.ts'
import { concernedWith, noticeOf, noticesOf, unreadIds, unreadOf } from './queries.ts'

export const listNotices = ({ reader }: Engine, viewer: Viewer): NoticeRow[] =>
  noticesOf.all(reader, { person: viewer.id }).map(({ itemKind, itemId, ...notice }) => ({
    ...notice,
    item: itemKind === null || itemId === null ? null : { kind: itemKind, id: itemId },
  }))

export const unread = ({ reader }: Engine, viewer: Viewer): number =>
  unreadOf.get(reader, { person: viewer.id })?.notices ?? 0

/** Marks one notice read, or all of a person's when no id is given. */
export function markRead(engine: Engine, viewer: Viewer, id: number | null): Changed<void> {
  const person = viewer.id
  if (id !== null && !noticeOf.get(engine.reader, { id, person }))
    refuse('not-found', 'That notice is not yours, or is gone.')
  return engine.journal.change(actorOf(viewer), (write) => {
    for (const notice of unreadIds.all(engine.reader, { person }))
      if (id === null || notice.id === id) write.update('notices', notice.id, { readAt: write.at })
  })
}

/** As much of a comment as a notice tells. */
const TOLD = 160

/** A comment is told to all who have to do with the task, but not to who is named in it: they are. */
function tellComment(
  { reader }: Engine,
  write: Writer,
  { taskId, by, text }: { taskId: TaskId; by: PersonId | null; text: (body: string) => string },
  html: string,
): void {
  const named = new Set(mentioned(html))
  const body = plainText(html)
  const short = body.length > TOLD ? `${body.slice(0, TOLD - 2)}…` : body
  for (const { id: personId } of concernedWith.all(reader, { task: taskId }))
    if (personId !== by && !named.has(personId))
      write.insert('notices', {
        personId,
        kind: 'comment',
        body: text(short),
        itemKind: 'task',
        itemId: taskId,
        at: write.at,
      })
}

/** Work and words that are new; what an undo puts back was told when it was given. */
const isNews = ({ entity, action, actor, undoes }: Entry): boolean =>
  (entity === 'taskAssignees' || entity === 'comments') &&
  action === 'made' &&
  undoes === null &&
  actor.kind !== 'import'

/** Who did it, where it was a person, and how they are named. */
function teller(reader: Reader, { actor }: Entry): [PersonId | null, string] {
  if (actor.kind !== 'person' || actor.id === null) return [null, 'Fernwick']
  return [actor.id, personName(reader, actor.id) ?? 'Someone']
}

/** What the journal makes people hear of: work given to them, and comments on their work. */
export function noticesFor(engine: Engine, write: Writer, entry: Entry): void {
  const { reader } = engine
  const taskId = taskOf(entry)
  if (taskId === null || !isNews(entry)) return
  const task = titleOf.get(reader, { id: taskId })
  if (!task) return
  const [by, from] = teller(reader, entry)
  if (entry.entity === 'comments')
    return tellComment(
      engine,
      write,
      { taskId, by, text: (body) => `${from} on “${task.title}”: ${body}` },
      String(entry.after?.['body'] ?? ''),
    )
  const personId = entry.after?.['personId']
  if (typeof personId !== 'number' || personId === by || task.closedAt !== null) return
  write.insert('notices', {
    personId,
    kind: 'assigned',
    body: `${from} gave you “${task.title}”`,
    itemKind: 'task',
    itemId: taskId,
    at: write.at,
  })
}
