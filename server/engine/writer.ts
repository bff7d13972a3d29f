import type { ChangeId } from '#core/brands.ts'
import type { ItemKind } from '#contract/words.ts'
import type { Hand } from '../database/hand.ts'
import { ENTITIES, type Entity, type Stored } from '../database/tables/engine.ts'
import type { Actor, Cause, Entry, TableName, Writer } from './journal.ts'
import type { Written } from './portions.ts'

/** What the journal's door hands out: it writes rows, and an entry for each that is journalled. */

const JOURNALLED: ReadonlySet<string> = new Set(ENTITIES)
const isEntity = (table: string): table is Entity => JOURNALLED.has(table)

/** Never written down. */
const SECRET = 'passwordHash'
function text(row: Stored | null): string | null {
  if (row === null || !(SECRET in row)) return row && JSON.stringify(row)
  const { [SECRET]: _, ...rest } = row
  return JSON.stringify(rest)
}

/** Things that have a life of their own, by the table they stand in. */
const OWN: Readonly<Partial<Record<Entity, ItemKind>>> = {
  tasks: 'task',
  projects: 'project',
  series: 'series',
  rules: 'rule',
  templates: 'template',
  clients: 'client',
  teams: 'team',
}
const number = (value: Stored[string] | undefined): number | null =>
  typeof value === 'number' ? value : null

/** Columns that say which of several a row is: told with every change of it. */
const NAMING: Readonly<Partial<Record<TableName, readonly string[]>>> = {
  ...{ fieldValues: ['fieldId'], projectValues: ['fieldId'], clientValues: ['fieldId'] },
}
/** Columns that say where a row belongs. */
const PLACES = ['projectId', 'taskId', 'teamId'] as const
/** Rows that are a part of their client, as its own columns are. */
const OF_CLIENT: ReadonlySet<Entity> = new Set(['clientRoles', 'clientTags', 'clientValues'])
/** Whose activity a row's change belongs to: its own, its task's, its team's, its project's. */
function placeOf(entity: Entity, id: number, row: Stored): Pick<Entry, 'item' | 'projectId'> {
  const projectId = entity === 'projects' ? id : number(row['projectId'])
  const own = OWN[entity]
  if (own) return { item: { kind: own, id }, projectId }
  const taskId = number(row['taskId'])
  if (taskId !== null) return { item: { kind: 'task', id: taskId }, projectId }
  const teamId = number(row['teamId'])
  if (teamId !== null) return { item: { kind: 'team', id: teamId }, projectId }
  const seriesId = entity === 'seriesDates' ? number(row['seriesId']) : null
  if (seriesId !== null) return { item: { kind: 'series', id: seriesId }, projectId }
  const clientId = OF_CLIENT.has(entity) ? number(row['clientId']) : null
  if (clientId !== null) return { item: { kind: 'client', id: clientId }, projectId }
  return { item: projectId === null ? null : { kind: 'project', id: projectId }, projectId }
}

/** One change while it is written. */
export interface Log {
  readonly hand: (table: TableName) => Hand
  readonly at: number
  readonly actor: Actor
  readonly causeId: number | null
  readonly depth: number
  readonly undoes: ChangeId | null
  readonly entries: Entry[]
  /** Looks at every row that is written, before anything is kept of it. */
  readonly look: ((written: Written) => void) | undefined
  /** Whether entries are kept in the journal; not where a change is taken out of it again. */
  readonly kept: boolean
  /** The number of the change; one that writes nothing takes none. */
  readonly change: ChangeId | null
  /** The same, taken now where there is none yet. */
  number(): ChangeId
}

/** How a change begins. */
export interface Opening extends Partial<Pick<Log, 'look' | 'kept'>> {
  readonly actor: Actor
  readonly cause?: Cause | undefined
  readonly at: number
}
export function openLog(
  hand: Log['hand'],
  take: () => ChangeId,
  { actor, cause, at, look, kept = true }: Opening,
): Log {
  let change: ChangeId | null = null
  const led = cause && 'journalId' in cause ? cause : null
  return {
    hand,
    at,
    actor,
    causeId: led?.journalId ?? null,
    depth: led ? led.depth + 1 : 0,
    undoes: cause && 'undoes' in cause ? cause.undoes : null,
    entries: [],
    look,
    kept,
    get change() {
      return change
    },
    number: () => (change ??= take()),
  }
}

type Key = number | string
interface Done {
  readonly table: TableName
  readonly id: Key
  readonly action: Entry['action']
  /** The row that tells whose activity it is. */
  readonly row: Stored
  readonly before: Stored | null
  readonly after: Stored | null
}
function enter(log: Log, { table, id: entityId, action, row, before, after }: Done): void {
  if (typeof entityId !== 'number' || !isEntity(table)) return
  const { at, actor, causeId, depth, undoes } = log
  const change = log.number()
  const { item, projectId } = placeOf(table, entityId, row)
  log.look?.({ change, table, id: entityId, action, item, row })
  const id = !log.kept
    ? 0
    : log.hand('journal').insert({
        change,
        at,
        actorKind: actor.kind,
        actorId: actor.id,
        tokenId: actor.token ?? null,
        causeId,
        depth,
        undoes,
        entity: table,
        entityId,
        action,
        itemKind: item?.kind ?? null,
        itemId: item?.id ?? null,
        projectId,
        before: text(before),
        after: text(after),
      })
  const said = { change, at, actor, depth, undoes, entity: table, entityId, action }
  log.entries.push({ id, ...said, item, projectId, before, after })
}

/** Things that people know by their number, which is never given twice. */
const NUMBERED: ReadonlySet<TableName> = new Set([
  ...(['tasks', 'projects', 'clients', 'people', 'teams', 'templates', 'series', 'rules'] as const),
  ...(['views', 'fields', 'tags', 'states', 'stateSets', 'clientStates'] as const),
])

/** Inserts a row under a number that no row of its kind has had. */
function insertAnew({ hand }: Log, table: TableName, row: Stored): number {
  const had = NUMBERED.has(table) && row['id'] === undefined && hand('numbers').read(table)
  if (!had) return hand(table).insert(row)
  hand('numbers').remove(table)
  return hand(table).insert({ ...row, id: Number(had['last']) + 1 })
}
/** Keeps in mind the highest number of all, when its row goes. */
function rememberNumber({ hand }: Log, table: TableName, id: Key): void {
  if (typeof id !== 'number' || !NUMBERED.has(table) || id < hand(table).highest()) return
  const had = hand('numbers').read(table)
  if (!had) hand('numbers').insert({ id: table, last: id })
  else if (Number(had['last']) < id) hand('numbers').update(table, { last: id })
}

function insert(log: Log, table: TableName, row: Stored): number {
  const id = insertAnew(log, table, row)
  enter(log, { table, id, action: 'made', row, before: null, after: row })
  return id
}

/** A row as it is stored, by its number; of it, what is to be written and where it belongs. */
interface Standing {
  readonly id: Key
  readonly before: Stored
}
function update(log: Log, table: TableName, { id, before }: Standing, patch: Stored): boolean {
  const keys = Object.keys(patch).filter((key) => patch[key] !== before[key])
  if (keys.length === 0) return false
  const naming = NAMING[table] ?? []
  const pick = (row: Stored) => ({
    ...Object.fromEntries(naming.map((key) => [key, before[key] ?? null])),
    ...Object.fromEntries(keys.map((key) => [key, row[key] ?? null])),
  })
  const [was, is] = [pick(before), pick(patch)]
  log.hand(table).update(id, is)
  // What moves to another task is told there.
  const row = { ...before, ...is }
  enter(log, { table, id, action: 'changed', row, before: was, after: is })
  return true
}

function remove(log: Log, table: TableName, id: Key): void {
  // What is neither told nor numbered need not be known to go.
  if (!isEntity(table) && !NUMBERED.has(table)) return log.hand(table).remove(id)
  const before = log.hand(table).read(id)
  if (!before) return
  log.hand(table).remove(id)
  rememberNumber(log, table, id)
  enter(log, { table, id, action: 'removed', row: before, before, after: null })
}

/** The columns of a row that an update of some of them asks for. */
const touched = (table: TableName, patch: Stored): string[] => [
  ...Object.keys(patch),
  ...PLACES,
  ...(NAMING[table] ?? []),
]

/** A row that must be there: its lack is a fault of the caller, not of what a person typed. */
function needed(log: Log, table: TableName, id: Key, patch: Stored): Standing {
  const before = log.hand(table).read(id, touched(table, patch))
  if (!before) throw new Error(`${table} has no row ${id}`)
  return { id, before }
}

export function writerOn(log: Log): Writer {
  const { hand } = log
  return {
    at: log.at,
    actor: log.actor,
    get change() {
      return log.change
    },
    get written() {
      return log.entries.length > 0
    },
    insert: (table, row) => insert(log, table, hand(table).store(row)) as never,
    update(table, row, patch) {
      const stored = hand(table).store(patch)
      if (Object.keys(stored).length === 0) return false
      if (typeof row !== 'object')
        return update(log, table, needed(log, table, row as Key, stored), stored)
      const whole = row as Readonly<Record<string, unknown>> & { readonly id: number }
      const before = hand(table).store(whole, touched(table, stored))
      return update(log, table, { id: whole.id, before }, stored)
    },
    remove: (table, id) => remove(log, table, id as Key),
    stored: {
      read: (entity, id) => hand(entity).read(id),
      insert: (entity, row) => insert(log, entity, row),
      update: (entity, id, row) => void update(log, entity, needed(log, entity, id, row), row),
      remove: (entity, id) => remove(log, entity, id),
      note(entity, id) {
        const row = hand(entity).read(id)
        if (row) enter(log, { table: entity, id, action: 'changed', row, before: {}, after: {} })
      },
    },
  }
}

/** Puts rows back to how they were before entries of the journal, newest first. */
export function restoringOn(log: Log): {
  readonly write: Writer
  readonly restore: (entry: Restored) => void
} {
  const write = writerOn(log)
  return {
    write,
    restore({ entity, entityId: id, action, before }) {
      const there = log.hand(entity).read(id)
      if (action === 'removed' && !there && before) insert(log, entity, { ...before, id })
      else if (action === 'made') remove(log, entity, id)
      else if (there && before) update(log, entity, { id, before: there }, before)
    },
  }
}
type Restored = Pick<Entry, 'entity' | 'entityId' | 'action' | 'before'>
