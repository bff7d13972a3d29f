import type { PersonId, TaskId } from '#core/brands.ts'
import type { Event, EventOf } from '#core/events/events.ts'
import { mentioned, plainText } from '#core/text/rich.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Item } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { personName } from '../people/queries.ts'
import { titleOf } from '../talk/queries.ts'
import type { News } from './notify.ts'
import { activeFollowers, concernedWith, stateName } from './queries.ts'

/** What events are news to whom. */

/** As much of a comment as a notice tells. */
const TOLD = 160
const taskItem = (id: TaskId): Item => ({ kind: 'task', id })

/** Who did it, where it was a person, and how they are named. */
function teller({ reader }: Engine, { actor }: Event): [PersonId | null, string] {
  if (actor.kind !== 'person' || actor.id === null) return [null, 'Fernwick']
  return [actor.id, personName(reader, actor.id) ?? 'Someone']
}

/** A comment is told to all who have to do with the task, but not to who is named in it: they are. */
function ofComment(engine: Engine, event: EventOf<'comment.made'>, title: string): News[] {
  const [by, from] = teller(engine, event)
  const named = new Set(mentioned(event.body))
  const body = plainText(event.body)
  const short = body.length > TOLD ? `${body.slice(0, TOLD - 2)}…` : body
  return concernedWith
    .all(engine.reader, { task: event.task })
    .filter(({ id }) => id !== by && !named.has(id))
    .map(({ id: to }) => ({
      ...{ to, kind: 'comment', about: taskItem(event.task) },
      text: `${from} on “${title}”: ${short}`,
    }))
}

function ofGiving(engine: Engine, event: EventOf<'task.given'>, title: string): News[] {
  const [by, from] = teller(engine, event)
  if (event.person === by) return []
  const about = taskItem(event.task)
  return [{ to: event.person, kind: 'assigned', about, text: `${from} gave you “${title}”` }]
}

/** What followers want to hear of a change, or null. */
function saidOf({ reader, firm }: Engine, event: Event): string | null {
  if (event.kind === 'file.added') return 'has a new file'
  if (event.kind !== 'task.changed') return null
  const { state, due } = event.fields
  if (typeof state?.to === 'number') {
    const found = stateName.get(reader, { id: state.to })
    if (found) return `is now “${found.name}”`
  }
  if (due === undefined) return null
  return due.to === null
    ? 'has no due date now'
    : `is now due ${sayDate(String(due.to), firm.today())}`
}

function ofFollowing(engine: Engine, event: Event, task: TaskId, title: string): News[] {
  const said = saidOf(engine, event)
  if (said === null) return []
  const self = event.actor.kind === 'person' ? event.actor.id : null
  return activeFollowers
    .all(engine.reader, { task })
    .filter(({ personId }) => personId !== self)
    .map(({ personId: to }) => ({
      ...{ to, kind: 'follow', about: taskItem(task), text: `“${title}” ${said}` },
    }))
}

/** Work and words that are new; what an undo puts back was told when it was given. */
const isNew = ({ undoes, actor }: Event): boolean => undoes === null && actor.kind !== 'import'

/** What an event is news of, and to whom. */
export function newsOf(engine: Engine, event: Event): News[] {
  const task = 'task' in event ? event.task : null
  const found = task === null ? undefined : titleOf.get(engine.reader, { id: task })
  if (task === null || !found) return []
  if (event.kind === 'comment.made')
    return isNew(event) ? ofComment(engine, event, found.title) : []
  if (event.kind === 'task.given')
    return isNew(event) && found.closedAt === null ? ofGiving(engine, event, found.title) : []
  return ofFollowing(engine, event, task, found.title)
}
