import { span, type When } from '#core/query/when.ts'
import { addDays, toInstant } from '#core/calendar/dates.ts'
import { Refusal } from '#core/refusal.ts'
import { OPS, TASK_FIELDS, type FieldType } from '#contract/fields.ts'
import type { Clause, Fault, Filter, Scope } from '#contract/query.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { matchWords } from '../search/words.ts'
import { fieldSql, type FieldSql, type Join } from './fields.ts'

/** A condition over `t` with its parameters and the tables it needs. */
export interface Where {
  sql: string
  args: (string | number)[]
  needs: Set<Join>
  faults: Fault[]
}

/** `me` stands for whoever asks. */
const people = (viewer: Viewer, values: readonly (string | number)[]) =>
  values.map((v) => (v === 'me' ? viewer.id : v))

function listTest(
  field: FieldSql,
  values: readonly (string | number)[],
  not: boolean,
): [string, (string | number)[]] {
  if (values.length === 0) return ['1', []]
  const marks = values.map(() => '?').join(',')
  if (field.many)
    return [
      `${not ? 'not ' : ''}exists (select 1 from ${field.many} m where m.taskId = t.id and ${field.value} in (${marks}))`,
      [...values],
    ]
  return [
    not
      ? `(${field.value} is null or ${field.value} not in (${marks}))`
      : `${field.value} in (${marks})`,
    [...values],
  ]
}

function dateTest(
  engine: Engine,
  type: FieldType,
  value: string,
  op: string,
  when: When,
): [string, (string | number)[]] {
  const { first, last } = span(when, engine.firm.today(), engine.firm.calendar())
  const instant = (day: string) => toInstant(day as never, null, engine.firm.zone())
  // Moments are asked about by the local day they fell on.
  const [from, past] =
    type === 'instant'
      ? [instant(first), instant(addDays(last, 1))]
      : [first as string, addDays(last, 1) as string]
  if (op === 'before') return [`${value} < ?`, [from]]
  if (op === 'after') return [`${value} >= ?`, [past]]
  return [`(${value} >= ? and ${value} < ?)`, [from, past]]
}

/** A task is late from the moment its due was missed. */
export function lateSql(engine: Engine): [string, string[]] {
  const { date, time } = engine.firm.nowLocal()
  return [
    '(t.closedAt is null and (t.due < ? or (t.due = ? and t.dueTime is not null and t.dueTime <= ?)))',
    [date, date, time],
  ]
}

function clauseSql(
  engine: Engine,
  viewer: Viewer,
  clause: Clause,
  needs: Set<Join>,
): [string, (string | number)[]] {
  const { op, value } = clause
  const wrong = (want: string): never => {
    throw new Refusal(
      'bad-filter',
      `“${TASK_FIELDS[clause.field as keyof typeof TASK_FIELDS]?.name ?? clause.field}” needs ${want}.`,
    )
  }
  if (clause.field === 'late') {
    const [sql, args] = lateSql(engine)
    return [value === false ? `not ${sql}` : sql, args]
  }
  if (clause.field === 'words') {
    const match = matchWords(String(value ?? ''))
    if (match === null) return ['1', []]
    // A comment's words are its task's.
    const found = `(t.id in (select rowid / 4 from search where search match ? and rowid % 4 = 0) or t.id in (select k.taskId from search s join comments k on k.id = s.rowid / 4 where search match ? and s.rowid % 4 = 1))`
    return [op === 'has-not' ? `not ${found}` : found, [match, match]]
  }
  const field = fieldSql(engine, clause.field)
  if (!field)
    throw new Refusal(
      'field-gone',
      'This field is not there any more; take it out, or choose another.',
    )
  if (!OPS[field.spec.type].some((o) => o.op === op))
    throw new Refusal('bad-filter', `“${field.spec.name}” cannot be asked like that.`)
  for (const join of field.needs) needs.add(join)
  const list = (): (string | number)[] =>
    Array.isArray(value)
      ? (value as (string | number)[])
      : typeof value === 'string' || typeof value === 'number'
        ? [value]
        : wrong('a list of values')
  switch (op) {
    case 'in':
    case 'not-in':
      return listTest(
        field,
        field.spec.type === 'people' ? people(viewer, list()) : list(),
        op === 'not-in',
      )
    case 'empty':
    case 'filled': {
      const filled = field.many
        ? `exists (select 1 from ${field.many} m where m.taskId = t.id)`
        : `(${field.value} is not null and ${field.value} <> '')`
      return [op === 'filled' ? filled : `not ${filled}`, []]
    }
    case 'has':
    case 'has-not': {
      const like = `${field.value} like ? escape '\\'`
      const arg = `%${String(value ?? '').replace(/[\\%_]/g, (c) => `\\${c}`)}%`
      return [op === 'has' ? `coalesce(${like}, 0)` : `not coalesce(${like}, 0)`, [arg]]
    }
    case 'is':
      if (field.spec.type === 'flag') return [`${field.value} = ?`, [value === false ? 0 : 1]]
      return typeof value === 'number' ? [`${field.value} = ?`, [value]] : wrong('a number')
    case 'at-least':
      return typeof value === 'number' ? [`${field.value} >= ?`, [value]] : wrong('a number')
    case 'at-most':
      return typeof value === 'number' ? [`${field.value} <= ?`, [value]] : wrong('a number')
    default: {
      if (
        value === undefined ||
        typeof value === 'boolean' ||
        typeof value === 'number' ||
        Array.isArray(value)
      )
        return wrong('a date')
      return dateTest(engine, field.spec.type, field.value, op, value as When)
    }
  }
}

/**
 * A filter as SQL. What cannot be asked (a field that is gone, a value that does not fit) is left
 * out and
 * named in `faults` with its place, so that the rest still holds.
 */
export function filterSql(engine: Engine, viewer: Viewer, filter: Filter): Where {
  const needs = new Set<Join>()
  const faults: Fault[] = []
  const args: (string | number)[] = []
  let asksArchived = false
  const build = (group: Filter, place: string): string => {
    const parts = group.of.flatMap((each, i) => {
      const here = place ? `${place}.${i}` : String(i)
      if ('match' in each) return [build(each, here)]
      if (each.field === 'archived') asksArchived = true
      try {
        const [sql, more] = clauseSql(engine, viewer, each, needs)
        args.push(...more)
        return [sql]
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        faults.push({ place: here, detail: error.message })
        return []
      }
    })
    if (parts.length === 0) return '1'
    const joined = parts.map((p) => `(${p})`).join(group.match === 'all' ? ' and ' : ' or ')
    return group.match === 'none' ? `not (${joined})` : `(${joined})`
  }
  const sql = build(filter, '')
  return { sql: asksArchived ? sql : `t.archivedAt is null and ${sql}`, args, needs, faults }
}

/** The tasks of a scope, as a condition over `t`. */
export function scopeSql(scope: Scope): Pick<Where, 'sql' | 'args'> & { needs: readonly Join[] } {
  switch (scope.of) {
    case 'firm':
      return { sql: '1', args: [], needs: [] }
    case 'project':
      return { sql: 't.projectId = ?', args: [scope.id], needs: [] }
    case 'client':
      return { sql: 'coalesce(t.clientId, p.clientId) = ?', args: [scope.id], needs: ['p'] }
    case 'person':
      return {
        sql: 'exists (select 1 from taskAssignees sa where sa.taskId = t.id and sa.personId = ?)',
        args: [scope.id],
        needs: [],
      }
  }
}
