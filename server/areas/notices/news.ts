import type { PersonId, TaskId } from '#core/brands.ts'
import type { Event, EventOf } from '#core/events/events.ts'
import { mentioned, plainText } from '#core/text/rich.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Item } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuestAccess } from '../../engine/viewer.ts'
import { personById, personName } from '../people/queries.ts'
import type { News } from './notify.ts'
import { activeFollowers, concernedWith, giversOf, stateName, titlesOf } from './queries.ts'

/** What events are news to whom. */

/** As much of a comment as a notice tells. */
const TOLD = 160
const taskItem = (id: TaskId): Item => ({ kind: 'task', id })

/** What is known of the tasks that some events are about, looked up together. */
interface Known {
  readonly engine: Engine
  readonly today: string
  readonly titles: ReadonlyMap<TaskId, { readonly title: string; readonly closedAt: number | null }>
  readonly followers: ReadonlyMap<TaskId, readonly PersonId[]>
  /** Whoever gave the work, of tasks that guests did something to. */
  readonly givers: ReadonlyMap<TaskId, readonly PersonId[]>
}

/** Whether a guest did it: what clients and contractors deliver, who gave the work wants to hear. */
function isByGuest({ reader }: Engine, { actor }: Event): boolean {
  if (actor.kind !== 'person' || actor.id === null) return false
  const person = personById.get(reader, { id: actor.id })
  return person !== undefined && isGuestAccess(person.access)
}

/** Who did it, where it was a person, and how they are named. */
function teller({ engine }: Known, { actor }: Event): [PersonId | null, string] {
  if (actor.kind !== 'person' || actor.id === null) return [null, 'Fernwick']
  return [actor.id, personName(engine.reader, actor.id) ?? 'Someone']
}

/** A comment is told to all who have to do with the task, but not to who is named in it: they are. */
function ofComment(known: Known, event: EventOf<'comment.made'>, title: string): News[] {
  const [by, from] = teller(known, event)
  const named = new Set(mentioned(event.body))
  const body = plainText(event.body)
  const short = body.length > TOLD ? `${body.slice(0, TOLD - 2)}…` : body
  return concernedWith
    .all(known.engine.reader, { task: event.task })
    .filter(({ id }) => id !== by && !named.has(id))
    .map(({ id: to }) => ({
      ...{ to, kind: 'comment', about: taskItem(event.task) },
      text: `${from} on “${title}”: ${short}`,
    }))
}

function ofGiving(known: Known, event: EventOf<'task.given'>, title: string): News[] {
  const [by, from] = teller(known, event)
  if (event.person === by) return []
  const about = taskItem(event.task)
  return [{ to: event.person, kind: 'assigned', about, text: `${from} gave you “${title}”` }]
}

/** What followers want to hear of a change, or null. */
function saidOf({ engine: { reader }, today }: Known, event: Event): string | null {
  if (event.kind === 'file.added') return 'has a new file'
  if (event.kind !== 'task.changed') return null
  const { state, due } = event.fields
  if (typeof state?.to === 'number') {
    const found = stateName.get(reader, { id: state.to })
    if (found) return `is now “${found.name}”`
  }
  if (due === undefined) return null
  return due.to === null ? 'has no due date now' : `is now due ${sayDate(String(due.to), today)}`
}

function ofFollowing(known: Known, event: Event, task: TaskId, title: string): News[] {
  const givers = isByGuest(known.engine, event) ? (known.givers.get(task) ?? []) : []
  const told = new Set([...(known.followers.get(task) ?? []), ...givers])
  const said = told.size ? saidOf(known, event) : null
  if (said === null) return []
  const [self, name] = teller(known, event)
  const text = givers.length ? `“${title}” ${said}, by ${name}` : `“${title}” ${said}`
  return [...told]
    .filter((id) => id !== self)
    .map((to) => ({ ...{ to, kind: 'follow', about: taskItem(task), text } }))
}

/** Work and words that are new; what an undo puts back was told when it was given. */
const isNew = ({ undoes, actor }: Event): boolean => undoes === null && actor.kind !== 'import'

function ofEvent(known: Known, event: Event, task: TaskId): News[] {
  const found = known.titles.get(task)
  if (!found) return []
  if (event.kind === 'comment.made') return isNew(event) ? ofComment(known, event, found.title) : []
  if (event.kind === 'task.given')
    return isNew(event) && found.closedAt === null ? ofGiving(known, event, found.title) : []
  return ofFollowing(known, event, task, found.title)
}

/** The task that an event could be news of. */
function taskIn(event: Event): TaskId | null {
  switch (event.kind) {
    case 'task.changed':
      return event.fields['state'] || event.fields['due'] ? event.task : null
    case 'comment.made':
    case 'task.given':
    case 'file.added':
      return event.task
    default:
      return null
  }
}

/** People by the task they have to do with. */
function byTask(
  rows: readonly { taskId: TaskId; personId: PersonId }[],
): Map<TaskId, readonly PersonId[]> {
  const by = new Map<TaskId, PersonId[]>()
  for (const { taskId, personId } of rows) by.set(taskId, [...(by.get(taskId) ?? []), personId])
  return by
}

function knownOf(engine: Engine, about: readonly { event: Event; task: TaskId }[]): Known {
  const { reader } = engine
  const listed = (tasks: readonly TaskId[]) => ({ tasks: JSON.stringify([...new Set(tasks)]) })
  const asked = listed(about.map(({ task }) => task))
  const delivered = about.filter(({ event }) => isByGuest(engine, event)).map(({ task }) => task)
  return {
    engine,
    today: engine.firm.today(),
    titles: new Map(titlesOf.all(reader, asked).map((row) => [row.id, row])),
    followers: byTask(activeFollowers.all(reader, asked)),
    givers: delivered.length ? byTask(giversOf.all(reader, listed(delivered))) : new Map(),
  }
}

/** What the events of a change are news of, and to whom. */
export function newsOf(engine: Engine, events: readonly Event[]): News[] {
  const about = events.flatMap((event) => {
    const task = taskIn(event)
    return task === null ? [] : [{ event, task }]
  })
  if (about.length === 0) return []
  const known = knownOf(engine, about)
  return about.flatMap(({ event, task }) => ofEvent(known, event, task))
}
