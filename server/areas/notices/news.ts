import type { PersonId, TaskId } from '#core/brands.ts'
import type { Event, EventOf } from '#core/events/events.ts'
import { mentioned, plainText } from '#core/text/rich.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Item } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuestAccess } from '../../engine/viewer.ts'
import { personById } from '../people/queries.ts'
import type { News } from './notify.ts'
import { activeFollowers, concernedWith, giversOf, stateName, titlesOf } from './queries.ts'

/** What events are news to whom. */

/** As much of a comment as a notice tells. */
const TOLD = 160
const taskItem = (id: TaskId): Item => ({ kind: 'task', id })

/** What is known of the tasks that some events are about, looked up together. */
interface Known {
  readonly engine: Engine
  readonly tellers: Tellers
  readonly today: string
  readonly titles: ReadonlyMap<TaskId, { readonly title: string; readonly closedAt: number | null }>
  readonly followers: ReadonlyMap<TaskId, readonly PersonId[]>
  /** Whoever gave the work, of tasks that guests did something to. */
  readonly givers: ReadonlyMap<TaskId, readonly PersonId[]>
}

/** Who did something. What clients and contractors deliver, who gave the work wants to hear. */
interface Teller {
  readonly id: PersonId | null
  readonly name: string
  readonly isGuest: boolean
}
type Tellers = (event: Event) => Teller
/** Who did what, each looked up once. */
function tellersOf({ reader }: Engine): Tellers {
  const known = new Map<PersonId | null, Teller>()
  const lookUp = (id: PersonId | null): Teller => {
    if (id === null) return { id, name: 'Fernwick', isGuest: false }
    const person = personById.get(reader, { id })
    const isGuest = person !== undefined && isGuestAccess(person.access)
    return { id, name: person?.name ?? 'Someone', isGuest }
  }
  return ({ actor }) => {
    const id = actor.kind === 'person' ? actor.id : null
    const teller = known.get(id) ?? lookUp(id)
    known.set(id, teller)
    return teller
  }
}

/** A comment is told to all who have to do with the task, but not to who is named in it: they are. */
function ofComment(known: Known, event: EventOf<'comment.made'>, title: string): News[] {
  const { id: by, name: from } = known.tellers(event)
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
  const { id: by, name: from } = known.tellers(event)
  if (event.person === by) return []
  const about = taskItem(event.task)
  return [{ to: event.person, kind: 'assigned', about, text: `${from} put you on “${title}”` }]
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
  const { id: self, name, isGuest } = known.tellers(event)
  const givers = isGuest ? (known.givers.get(task) ?? []) : []
  const told = new Set([...(known.followers.get(task) ?? []), ...givers])
  const said = told.size ? saidOf(known, event) : null
  if (said === null) return []
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

type About = readonly { readonly event: Event; readonly task: TaskId }[]
function knownOf(engine: Engine, tellers: Tellers, about: About): Known {
  const { reader } = engine
  const listed = (tasks: readonly TaskId[]) => ({ tasks: JSON.stringify([...new Set(tasks)]) })
  const asked = listed(about.map(({ task }) => task))
  const delivered = about.filter(({ event }) => tellers(event).isGuest).map(({ task }) => task)
  return {
    ...{ engine, tellers },
    today: engine.firm.today(),
    titles: new Map(titlesOf.all(reader, asked).map((row) => [row.id, row])),
    followers: byTask(activeFollowers.all(reader, asked)),
    givers: delivered.length ? byTask(giversOf.all(reader, listed(delivered))) : new Map(),
  }
}

/** As many events as are looked at in one step. */
const AT_ONCE = 500
/** What the events of a change are news of, and to whom. */
export function* newsOf(engine: Engine, events: readonly Event[]): Steps<News[]> {
  const about = events.flatMap((event) => {
    const task = taskIn(event)
    return task === null ? [] : [{ event, task }]
  })
  const tellers = tellersOf(engine)
  const news: News[] = []
  for (let next = 0; next < about.length; next += AT_ONCE) {
    if (next > 0) yield
    const some = about.slice(next, next + AT_ONCE)
    const known = knownOf(engine, tellers, some)
    for (const { event, task } of some) news.push(...ofEvent(known, event, task))
  }
  return news
}
