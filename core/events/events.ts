import { columnsOfTask, storedIn } from '../fields/catalogue.ts'
import { customName } from '../fields/field.ts'

/** What happened, told in the terms of the work: events out of the journal's entries. */

/** Columns as they are stored. */
export type Stored = Readonly<Record<string, string | number | null>>
/** An entry of the journal: one row that was made, changed or removed. */
export interface Entered {
  readonly id: number
  readonly change: number
  readonly at: number
  readonly actor: { readonly kind: string; readonly id: number | null }
  readonly depth: number
  /** The change that this one takes back. */
  readonly undoes: number | null
  readonly entity: string
  readonly entityId: number
  readonly action: 'made' | 'changed' | 'removed'
  readonly item: { readonly kind: string; readonly id: number } | null
  readonly projectId: number | null
  readonly before: Stored | null
  readonly after: Stored | null
}

/** Both sides of a field, as stored; of a field of several, what went and what came. */
export interface FieldChange {
  readonly from: Stored[string] | readonly number[]
  readonly to: Stored[string] | readonly number[]
}

/** What every event says: which entry it begins with, by whom, how many changes deep. */
export interface Happened extends Pick<
  Entered,
  'id' | 'change' | 'at' | 'actor' | 'depth' | 'undoes' | 'projectId'
> {
  /** The tables whose rows it is told from. */
  readonly rows: readonly string[]
}
export type Event = Happened &
  (
    | { readonly kind: 'task.made'; readonly task: number }
    | { readonly kind: 'task.removed'; readonly task: number }
    | {
        readonly kind: 'task.changed'
        readonly task: number
        /** By the field's name. */
        readonly fields: Readonly<Record<string, FieldChange>>
        /** Whether it changed more than these: where the task stands among others, its history. */
        readonly more: boolean
      }
    | { readonly kind: 'task.given'; readonly task: number; readonly person: number }
    | { readonly kind: 'comment.made'; readonly task: number; readonly body: string }
    | { readonly kind: 'file.added'; readonly task: number | null; readonly name: string }
    | { readonly kind: 'project.made'; readonly project: number }
    | { readonly kind: 'project.finished'; readonly project: number }
    | {
        readonly kind: 'project.changed'
        readonly project: number
        readonly fields: Readonly<Record<string, FieldChange>>
      }
    | { readonly kind: 'client.made'; readonly client: number }
    | {
        readonly kind: 'client.changed'
        readonly client: number
        readonly fields: Readonly<Record<string, FieldChange>>
      }
    /** A step of a checklist was ticked or unticked, came or went. */
    | { readonly kind: 'step.changed'; readonly task: number }
    /** Anything else that changed: of interest to whoever shows it. */
    | { readonly kind: 'other'; readonly task: number | null }
  )
export type EventKind = Event['kind']
export type EventOf<K extends EventKind> = Extract<Event, { kind: K }>

/** The tables that tie several things to a task: the field they are, and the column that says which. */
const LINKS: Readonly<Record<string, readonly [field: string, column: string]>> = {
  taskAssignees: ['assignee', 'personId'],
  taskFollowers: ['follower', 'personId'],
  taskTags: ['tag', 'tagId'],
}

type Fields = Record<string, FieldChange>
/** A task's event while a change is read. */
interface TaskChanges {
  readonly first: Entered
  readonly rows: Set<string>
  readonly fields: Fields
  more: boolean
}

const told = (
  { id, change, at, actor, depth, undoes, projectId }: Entered,
  rows: readonly string[],
): Happened => ({ id, change, at, actor, depth, undoes, projectId, rows })
const alone = (entry: Entered): Happened => told(entry, [entry.entity])
const number = (value: Stored[string] | undefined): number | null =>
  typeof value === 'number' ? value : null

/** Notes what an entry changes of its task's fields; answers whether it changes anything else. */
type Note = (into: Fields, entry: Entered) => boolean

/** Counts edits: changed with every one, it says nothing by itself. */
const COUNTER = 'version'
const noteColumns: Note = (into, { before, after }) => {
  const columns = columnsOfTask()
  let more = false
  for (const column in after) {
    const name = columns.get(column)
    if (name === undefined) {
      more ||= column !== COUNTER
      continue
    }
    const from = into[name]?.from ?? before?.[column] ?? null
    into[name] = { from, to: after[column] ?? null }
  }
  return more
}
const noteLink =
  (name: string, column: string): Note =>
  (into, { action, before, after }) => {
    const id = number((after ?? before)?.[column])
    if (action === 'changed' || id === null) return true
    const known = into[name] as { from: readonly number[]; to: readonly number[] } | undefined
    const { from, to } = known ?? { from: [], to: [] }
    into[name] = action === 'made' ? { from, to: [...to, id] } : { from: [...from, id], to }
    return false
  }
const valueIn = (row: Stored | null): Stored[string] => row?.['text'] ?? row?.['number'] ?? null
const noteValue: Note = (into, { action, before, after }) => {
  const id = number((after ?? before)?.['fieldId'])
  if (id === null) return true
  into[customName(id)] = {
    from: action === 'made' ? null : valueIn(before),
    to: action === 'removed' ? null : valueIn(after),
  }
  return false
}
/** What entries of each table change of their task's fields. */
const NOTES: Readonly<Record<string, Note>> = {
  tasks: noteColumns,
  fieldValues: noteValue,
  ...Object.fromEntries(
    Object.entries(LINKS).map(([table, [name, column]]) => [table, noteLink(name, column)]),
  ),
}

type Own = (entry: Entered, task: number | null) => Event | readonly Event[] | null
const isFinishing = ({ action, before, after }: Entered): boolean =>
  action === 'changed' &&
  after !== null &&
  'closedAt' in after &&
  after['closedAt'] !== null &&
  before?.['closedAt'] === null
/** What an entry changes of a project or a client, by the names of fields. */
function placeFields(kind: 'project' | 'client', { before, after }: Entered): Fields {
  const fields: Fields = {}
  for (const column in after) {
    const field = storedIn(kind, column)
    if (field) fields[field.name] = { from: before?.[column] ?? null, to: after[column] ?? null }
  }
  return fields
}
/** What an entry changes of a place's fields of the firm's own. */
function ownField({ action, before, after }: Entered): Fields {
  const id = number((after ?? before)?.['fieldId'])
  if (id === null) return {}
  const from = action === 'made' ? null : valueIn(before)
  return { [customName(id)]: { from, to: action === 'removed' ? null : valueIn(after) } }
}
const filled = (fields: Fields): boolean => Object.keys(fields).length > 0
const projectChanged = (entry: Entered, project: number | null, fields: Fields): Event[] =>
  project !== null && filled(fields)
    ? [{ ...alone(entry), kind: 'project.changed', project, fields }]
    : []
const clientChanged = (entry: Entered, client: number | null, fields: Fields): Event[] =>
  client !== null && filled(fields)
    ? [{ ...alone(entry), kind: 'client.changed', client, fields }]
    : []
const clientOf = ({ item }: Entered): number | null => (item?.kind === 'client' ? item.id : null)

/** The events that entries of each table are by themselves, beside what they change of a task. */
const OWN: Readonly<Record<string, Own>> = {
  taskAssignees(entry, task) {
    const person = number(entry.after?.['personId'])
    return entry.action !== 'made' || task === null || person === null
      ? null
      : { ...alone(entry), kind: 'task.given', task, person }
  },
  comments: (entry, task) =>
    entry.action !== 'made' || task === null
      ? null
      : { ...alone(entry), kind: 'comment.made', task, body: String(entry.after?.['body'] ?? '') },
  attachments: (entry, task) =>
    entry.action === 'made'
      ? { ...alone(entry), kind: 'file.added', task, name: String(entry.after?.['name'] ?? '') }
      : null,
  projects(entry) {
    const { entityId: project, action } = entry
    if (action === 'made') return { ...alone(entry), kind: 'project.made', project }
    if (action === 'removed') return null
    const changed = projectChanged(entry, project, placeFields('project', entry))
    return isFinishing(entry)
      ? [{ ...alone(entry), kind: 'project.finished', project }, ...changed]
      : changed
  },
  projectValues: (entry) => projectChanged(entry, entry.projectId, ownField(entry)),
  clients(entry) {
    const { entityId: client, action } = entry
    if (action === 'made') return { ...alone(entry), kind: 'client.made', client }
    return action === 'removed' ? null : clientChanged(entry, client, placeFields('client', entry))
  },
  clientValues: (entry) => clientChanged(entry, clientOf(entry), ownField(entry)),
  checklistItems: (entry, task) =>
    task === null ? null : { ...alone(entry), kind: 'step.changed', task },
}

/** The events of one change while its entries are read. */
interface Telling {
  readonly events: Event[]
  readonly made: Set<number>
  readonly changes: Map<number, TaskChanges>
}

/** A task that comes or goes; what it is made with belongs to that. */
function tellComing({ events, made }: Telling, entry: Entered, task: number): void {
  if (entry.action === 'made') made.add(task)
  events.push({
    ...alone(entry),
    kind: entry.action === 'made' ? 'task.made' : 'task.removed',
    task,
  })
}

/** What an entry changes of a task that was there: all of it is one event. */
function tellChange({ changes }: Telling, entry: Entered, task: number): void {
  let change = changes.get(task)
  if (!change)
    changes.set(task, (change = { first: entry, rows: new Set(), fields: {}, more: false }))
  change.rows.add(entry.entity)
  if (NOTES[entry.entity]?.(change.fields, entry)) change.more = true
}

const taskOf = ({ item }: Entered): number | null => (item?.kind === 'task' ? item.id : null)

function tell(telling: Telling, entry: Entered): void {
  const { entity, action } = entry
  const task = taskOf(entry)
  const own = [OWN[entity]?.(entry, task) ?? []].flat()
  telling.events.push(...own)
  if (task !== null && entity === 'tasks' && action !== 'changed')
    return tellComing(telling, entry, task)
  if (task !== null && NOTES[entity] && !telling.made.has(task))
    return tellChange(telling, entry, task)
  if (own.length === 0) telling.events.push({ ...alone(entry), kind: 'other', task })
}

/** As many entries as are told in one step. */
const AT_ONCE = 1_000
/** The same as `eventsOf`, in steps: a change may have very many entries. */
export function* eventSteps(entries: readonly Entered[]): Generator<undefined, Event[]> {
  const telling: Telling = { events: [], made: new Set(), changes: new Map() }
  for (const [i, entry] of entries.entries()) {
    tell(telling, entry)
    if (i % AT_ONCE === AT_ONCE - 1) yield
  }
  const { events, changes } = telling
  for (const [task, { first, rows, fields, more }] of changes)
    events.push({ ...told(first, [...rows]), kind: 'task.changed', task, fields, more })
  return changes.size ? events.sort((a, b) => a.id - b.id) : events
}

/**
 * The events of one change, in the order of the entries they begin with. What a change does to one
 * task is one event, however many rows it wrote; what a task is made with belongs to its making.
 */
export function eventsOf(entries: readonly Entered[]): Event[] {
  for (const steps = eventSteps(entries); ;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** What an event is known by, once: rules and listeners act on it by this key. */
export const eventKey = ({ id, kind }: Event): string => `${id}:${kind}`
