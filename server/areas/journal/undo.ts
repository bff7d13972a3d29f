import { plural } from '#core/text/speak.ts'
import { refuse } from '#core/refusal.ts'
import type { Engine } from '../../engine/services.ts'
import type { TableName, Writer } from '../../engine/journal.ts'
import { actorOf, mayStructure, type Viewer } from '../../engine/viewer.ts'

interface Row {
  id: number
  entity: TableName
  entityId: number
  action: 'made' | 'changed' | 'removed'
  actorKind: string
  actorId: number | null
  taskId: number | null
  before: string | null
  after: string | null
}
type Columns = Record<string, unknown>

/** Counters that every change moves on: they go forward on an undo, too. */
const COUNTERS = new Set(['version'])

const read = (text: string | null): Columns => (text ? (JSON.parse(text) as Columns) : {})

/** Rows that others point at by number: they come back under it or not at all. */
const NUMBERED: ReadonlySet<string> = new Set([
  'tasks',
  'projects',
  'phases',
  'states',
  'stateSets',
  'fields',
  'tags',
  'milestones',
  'checklistItems',
])

/** What a change left of one row: whether it is there, and the values it gave it. */
interface Left {
  readonly row: Row
  readonly there: boolean
  readonly made: boolean
  readonly values: Columns
}

/** The state in which a change left each row it touched; `rows` are its entries, newest first. */
function leftBy(rows: readonly Row[]): Left[] {
  const left = new Map<
    string,
    { row: Row; there: boolean; made: boolean; values: Columns; settled: boolean }
  >()
  for (const row of rows) {
    const key = `${row.entity} ${row.entityId}`
    const known = left.get(key)
    if (!known)
      left.set(key, {
        row,
        there: row.action !== 'removed',
        made: row.action === 'made',
        values: row.action === 'changed' ? read(row.after) : {},
        settled: row.action !== 'changed',
      })
    else if (!known.settled) {
      // Older steps of the same change fill in what newer ones left alone.
      if (row.action === 'changed') known.values = { ...read(row.after), ...known.values }
      else known.settled = true
      if (row.action === 'made') known.made = true
    }
  }
  return [...left.values()]
}

/** What stands in the way of taking one row back, as a sentence, or null. */
function obstacle(
  engine: Engine,
  { row, there, made, values }: Left,
  change: number,
): string | null {
  const { db } = engine
  const now = db.prepare(`select * from "${row.entity}" where id = ?`).get(row.entityId) as
    Columns | undefined
  const title =
    row.taskId === null
      ? undefined
      : (
          db.prepare('select title from tasks where id = ?').get(row.taskId) as
            { title: string } | undefined
        )?.title
  const name = title ? `“${title}”` : 'Something here'
  if (!there) return now && NUMBERED.has(row.entity) ? `${name} was put back already.` : null
  if (!now) return `${name} is not there any more.`
  if (Object.keys(values).some((key) => !COUNTERS.has(key) && values[key] !== now[key]))
    return `${name} was changed again afterwards.`
  if (!made) return null
  // What was made may go only while nothing stands that was done to it since; what was taken back
  // does not.
  // A task's or project's later entries are those of everything in it.
  const within =
    row.entity === 'tasks' ? 'j.taskId = ?' : row.entity === 'projects' ? 'j.projectId = ?' : null
  const whose = within ?? 'j.entity = ? and j.entityId = ?'
  const since = db
    .prepare(
      `select 1 from journal j where ${whose} and j."change" > ? and j.undoes is null and not exists
       (select 1 from journal u where u.undoes = j."change" and not exists (select 1 from journal again where again.undoes = u."change")) limit 1`,
    )
    .get(...(within ? [row.entityId] : [row.entity, row.entityId]), change)
  return since ? `${name} was worked on afterwards.` : null
}

/** Puts a row back; under a new number where another has taken its own meanwhile. */
function restore(engine: Engine, write: Writer, row: Row, before: Columns): void {
  const taken =
    engine.db.prepare(`select 1 from "${row.entity}" where id = ?`).get(row.entityId) !== undefined
  const { id: _, ...rest } = before
  try {
    write.insert(row.entity, (taken ? rest : before) as never)
  } catch (error) {
    if ((error as { code?: string }).code !== 'SQLITE_CONSTRAINT_UNIQUE') throw error
    refuse(
      'changed-since',
      'What this took away was added again afterwards; there is nothing to put back.',
    )
  }
}

/**
 * Takes back a whole change, whatever it touched: every row is put back as it was, in one
 * transaction.
 * Answers the change that did so, which can itself be taken back.
 * @throws Refusal `not-found`, `forbidden` for somebody else's change, `changed-since` where later
 * changes stand in the way
 */
export function undoChange(
  engine: Engine,
  viewer: Viewer,
  change: number,
): { change: number; count: number } {
  const { db, journal } = engine
  const rows = db
    .prepare('select * from journal where "change" = ? order by id desc')
    .all(change) as Row[]
  const first = rows.at(-1) ?? refuse('not-found', 'There is no such change.')
  const own = first.actorKind === 'person' && first.actorId === viewer.id
  if (!own && !mayStructure(viewer))
    refuse('forbidden', 'Only who made a change, or a manager, may take it back.')
  if (db.prepare('select 1 from journal where undoes = ? limit 1').get(change)) {
    const redone = db
      .prepare('select max("change") as n from journal where undoes = ?')
      .get(change) as { n: number }
    if (!db.prepare('select 1 from journal where undoes = ? limit 1').get(redone.n))
      refuse('changed-since', 'This was taken back already.')
  }
  journal.change(
    actorOf(viewer),
    (write) => {
      const blocks = [
        ...new Set(
          leftBy(rows)
            .map((left) => obstacle(engine, left, change))
            .filter((text): text is string => text !== null),
        ),
      ]
      if (blocks.length)
        refuse(
          'changed-since',
          `${blocks[0]}${blocks.length > 1 ? ` So were ${plural(blocks.length - 1, 'other')}.` : ''} Undoing would lose that.`,
        )
      for (const row of rows) {
        const before = read(row.before)
        if (row.action === 'made') write.remove(row.entity, row.entityId)
        else if (row.action === 'removed') restore(engine, write, row, before)
        else {
          for (const key of Object.keys(before)) if (COUNTERS.has(key)) delete before[key]
          const now = db
            .prepare(`select * from "${row.entity}" where id = ?`)
            .get(row.entityId) as { version?: number }
          write.update(row.entity, row.entityId, {
            ...before,
            ...(now.version !== undefined && { version: now.version + 1 }),
          } as never)
        }
      }
    },
    { undoes: change },
  )
  return {
    change: journal.latest(),
    count: new Set(rows.map((r) => r.taskId ?? `${r.entity} ${r.entityId}`)).size,
  }
}
