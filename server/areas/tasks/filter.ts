import { sql, type SQL } from 'drizzle-orm'
import { addDays, toInstant } from '#core/calendar/dates.ts'
import { span, type When } from '#core/query/when.ts'
import { Refusal } from '#core/refusal.ts'
import { OPS, TASK_FIELDS, type FieldType } from '#contract/fields.ts'
import type { Clause, Fault, Filter, Scope } from '#contract/query.ts'
import { anywhere, like } from '../../database/sql.ts'
import { openAssignments, projects, taskAssignees, tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { taskWords } from '../search/queries.ts'
import { matchWords } from '../search/words.ts'
import { fieldSql, type FieldSql, type Join } from './fields.ts'
import { lateIn } from './late.ts'

/** A condition over the tasks with the tables it needs. */
export interface Where {
  readonly sql: SQL
  readonly needs: Set<Join>
  readonly faults: Fault[]
}
type Value = string | number
const TRUE = sql`1`
const not = (condition: SQL): SQL => sql`not ${condition}`
const values = (list: readonly Value[]): SQL =>
  sql`(${sql.join(
    list.map((value) => sql`${value}`),
    sql`, `,
  )})`

/** What a clause is read against. */
interface Reading {
  readonly engine: Engine
  readonly viewer: Viewer
  readonly needs: Set<Join>
  /** All that is asked for is open and in no archive: people's work is found by their open work. */
  readonly openOnly: boolean
}

const nameOf = (field: string): string =>
  Object.entries(TASK_FIELDS).find(([name]) => name === field)?.[1].name ?? field
function wrong(clause: Clause, want: string): never {
  throw new Refusal('bad-filter', `“${nameOf(clause.field)}” needs ${want}.`)
}

/** The list that a clause names; `me` stands for whoever asks. */
function listOf({ viewer }: Reading, clause: Clause, type: FieldType): readonly Value[] {
  const { value } = clause
  const isValue = (each: unknown): each is Value =>
    typeof each === 'string' || typeof each === 'number'
  const list = Array.isArray(value)
    ? value.filter(isValue)
    : isValue(value)
      ? [value]
      : wrong(clause, 'a list of values')
  return type === 'people' ? list.map((each) => (each === 'me' ? viewer.id : each)) : list
}

function inList(reading: Reading, field: FieldSql, list: readonly Value[]): SQL {
  const { many, value } = field
  if (!many) return sql`${value} in ${values(list)}`
  // A person's open work is one look-up; all they ever had grows with the years.
  return reading.openOnly && many.table === taskAssignees
    ? sql`${tasks.id} in (select ${openAssignments.taskId} from ${openAssignments}
      where ${openAssignments.personId} in ${values(list)})`
    : sql`exists (select 1 from ${many.table} where ${many.taskId} = ${tasks.id} and ${value} in ${values(list)})`
}

function notInList(reading: Reading, field: FieldSql, list: readonly Value[]): SQL {
  const found = inList({ ...reading, openOnly: false }, field, list)
  return field.many ? not(found) : sql`(${field.value} is null or ${not(found)})`
}

const filled = ({ many, value }: FieldSql): SQL =>
  many
    ? sql`exists (select 1 from ${many.table} where ${many.taskId} = ${tasks.id})`
    : sql`(${value} is not null and ${value} <> '')`

const containing = ({ value }: FieldSql, clause: Clause): SQL =>
  sql`coalesce(${like(value, anywhere(String(clause.value ?? '')))}, 0)`

function numberOf(clause: Clause): number {
  return typeof clause.value === 'number' ? clause.value : wrong(clause, 'a number')
}

const isWhen = (value: Clause['value']): value is When =>
  typeof value === 'string' || (typeof value === 'object' && !Array.isArray(value))

function dateTest({ engine }: Reading, field: FieldSql, clause: Clause): SQL {
  const { firm } = engine
  if (!isWhen(clause.value)) return wrong(clause, 'a date')
  const { first, last } = span(clause.value, firm.today(), firm.calendar())
  const next = addDays(last, 1)
  // Moments are asked about by the local day they fell on.
  const moment = field.spec.type === 'instant'
  const from = moment ? toInstant(first, null, firm.zone()) : first
  const past = moment ? toInstant(next, null, firm.zone()) : next
  const { value } = field
  if (clause.op === 'before') return sql`${value} < ${from}`
  if (clause.op === 'after') return sql`${value} >= ${past}`
  return sql`(${value} >= ${from} and ${value} < ${past})`
}

/** How each operation reads; those not named here are about dates. */
const TESTS: Readonly<Record<string, (r: Reading, field: FieldSql, clause: Clause) => SQL>> = {
  in: (r, field, clause) => {
    const list = listOf(r, clause, field.spec.type)
    return list.length ? inList(r, field, list) : TRUE
  },
  'not-in': (r, field, clause) => {
    const list = listOf(r, clause, field.spec.type)
    return list.length ? notInList(r, field, list) : TRUE
  },
  filled: (_, field) => filled(field),
  empty: (_, field) => not(filled(field)),
  has: (_, field, clause) => containing(field, clause),
  'has-not': (_, field, clause) => not(containing(field, clause)),
  is: (_, { spec, value }, clause) =>
    spec.type === 'flag'
      ? sql`${value} = ${clause.value === false ? 0 : 1}`
      : sql`${value} = ${numberOf(clause)}`,
  'at-least': (_, { value }, clause) => sql`${value} >= ${numberOf(clause)}`,
  'at-most': (_, { value }, clause) => sql`${value} <= ${numberOf(clause)}`,
}

function wordsTest({ op, value }: Clause): SQL {
  const match = matchWords(String(value ?? ''))
  if (match === null) return TRUE
  return op === 'has-not' ? not(taskWords(match)) : taskWords(match)
}

function clauseSql(reading: Reading, clause: Clause): SQL {
  const { engine, needs } = reading
  if (clause.field === 'late') {
    const late = lateIn(engine.firm.nowLocal())
    return clause.value === false ? not(late) : late
  }
  if (clause.field === 'words') return wordsTest(clause)
  const field = fieldSql(engine.reader, clause.field)
  if (!field)
    throw new Refusal(
      'field-gone',
      'This field is not there any more; take it out, or choose another.',
    )
  if (!OPS[field.spec.type].some((o) => o.op === clause.op))
    throw new Refusal('bad-filter', `“${field.spec.name}” cannot be asked like that.`)
  for (const join of field.needs) needs.add(join)
  return (TESTS[clause.op] ?? dateTest)(reading, field, clause)
}

const isGroup = (each: Clause | Filter): each is Filter => 'match' in each
const asks = (filter: Filter, field: string): boolean =>
  filter.of.some((each) => (isGroup(each) ? asks(each, field) : each.field === field))
/** Whether all that a filter finds is open. */
const onlyOpen = (filter: Filter): boolean =>
  filter.match === 'all' &&
  filter.of.some((each) => !isGroup(each) && each.field === 'open' && each.value !== false)

/** Whether people's work is found by their open work: nothing closed or archived is asked for. */
export const asksOpenOnly = (filter: Filter): boolean =>
  onlyOpen(filter) && !asks(filter, 'archived')

/**
 * A filter as SQL. What cannot be asked (a field that is gone, a value that does not fit) is left
 * out and named in `faults` with its place, so that the rest still holds.
 */
export function filterSql(engine: Engine, viewer: Viewer, filter: Filter): Where {
  const needs = new Set<Join>()
  const faults: Fault[] = []
  const reading: Reading = { engine, viewer, needs, openOnly: asksOpenOnly(filter) }
  const one = (clause: Clause, place: string): SQL[] => {
    try {
      return [clauseSql(reading, clause)]
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      faults.push({ place, detail: error.message })
      return []
    }
  }
  const build = (group: Filter, place: string): SQL => {
    const parts = group.of.flatMap((each, i) => {
      const here = place ? `${place}.${i}` : String(i)
      return isGroup(each) ? [build(each, here)] : one(each, here)
    })
    if (parts.length === 0) return TRUE
    const joined = sql`(${sql.join(
      parts.map((part) => sql`(${part})`),
      group.match === 'all' ? sql` and ` : sql` or `,
    )})`
    return group.match === 'none' ? not(joined) : joined
  }
  const built = build(filter, '')
  const whole = asks(filter, 'archived') ? built : sql`${tasks.archivedAt} is null and ${built}`
  return { sql: whole, needs, faults }
}

/** The tasks of a scope, as a condition over the tasks. */
export function scopeSql(
  scope: Scope,
  openOnly: boolean,
): { readonly sql: SQL; readonly needs: readonly Join[] } {
  switch (scope.of) {
    case 'firm':
      return { sql: TRUE, needs: [] }
    case 'project':
      return { sql: sql`${tasks.projectId} = ${scope.id}`, needs: [] }
    case 'client':
      return {
        sql: sql`(${tasks.clientId} = ${scope.id} or (${tasks.clientId} is null
          and ${tasks.projectId} in
            (select ${projects.id} from ${projects} where ${projects.clientId} = ${scope.id})))`,
        needs: [],
      }
    case 'person': {
      const [table, taskId, personId] = openOnly
        ? [openAssignments, openAssignments.taskId, openAssignments.personId]
        : [taskAssignees, taskAssignees.taskId, taskAssignees.personId]
      return {
        sql: sql`${tasks.id} in (select ${taskId} from ${table} where ${personId} = ${scope.id})`,
        needs: [],
      }
    }
  }
}
