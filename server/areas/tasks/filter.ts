import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import { boundsOf, listFor, planned, type Asked, type Plan } from '#core/conditions/ask.ts'
import { isGroup, testsOf, type Fault, type Group } from '#core/conditions/condition.ts'
import type { Field } from '#core/fields/field.ts'
import { Refusal } from '#core/refusal.ts'
import type { Scope } from '#contract/query.ts'
import { anywhere, like } from '../../database/sql.ts'
import { openAssignments, projects, taskAssignees, tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { fieldsFor } from '../fields/queries.ts'
import { taskWords } from '../search/queries.ts'
import { matchWords } from '../search/words.ts'
import { fieldSql, type FieldSql, type Join, type SqlNow } from './fields.ts'

/** Conditions as SQL: the other reading of them is core/conditions/compile.ts. */

/** A condition over the tasks with the tables it needs. */
export interface Where {
  readonly sql: SQL
  readonly needs: Set<Join>
  readonly faults: Fault[]
}
const TRUE = sql`1`
const not = (condition: SQL): SQL => sql`not ${condition}`
/** What is null, because nothing is there to compare, does not hold. */
const total = (condition: SQL): SQL => sql`coalesce(${condition}, 0)`
const values = (list: readonly (string | number)[]): SQL =>
  sql`(${sql.join(
    list.map((value) => sql`${value}`),
    sql`, `,
  )})`

/** What conditions are asked of: the firm's day, and who asks. */
export const nowFor = ({ firm }: Engine, me: number | null): SqlNow => {
  const { date: today, time } = firm.nowLocal()
  return { today, time, zone: firm.zone(), calendar: firm.calendar(), me }
}

/** What a test is read against. */
interface Reading {
  readonly now: SqlNow
  /** All that is asked for is open and in no archive: people's work is found by their open work. */
  readonly openOnly: boolean
}

const words = (value: SQLWrapper, { text, whole }: Asked & { of: 'words' }): SQL =>
  whole ? sql`${value} = ${text} collate nocase` : like(value, anywhere(text))

const COMPARES = {
  is: sql`=`,
  'at-least': sql`>=`,
  'at-most': sql`<=`,
  above: sql`>`,
  below: sql`<`,
}
function onDay(
  value: SQLWrapper,
  { when, by }: Asked & { of: 'day' },
  moment: boolean,
  now: SqlNow,
) {
  const { from, past } = boundsOf(when, moment, now)
  if (by === 'before') return sql`${value} < ${from}`
  if (by === 'after') return sql`${value} >= ${past}`
  return sql`(${value} >= ${from} and ${value} < ${past})`
}

/** What one value of a field must be; null where there is none, as SQL compares. */
function valueTest(field: Field<'task'>, value: SQLWrapper, means: Asked, { now }: Reading): SQL {
  switch (means.of) {
    case 'list': {
      const list = listFor(means.list, now.me)
      return list.length ? sql`${value} in ${values(list)}` : sql`0`
    }
    case 'words':
      return words(value, means)
    case 'filled':
      return sql`(${value} is not null and ${value} <> '')`
    case 'amount':
      return sql`${value} ${COMPARES[means.by]} ${means.number}`
    case 'truth':
      return means.is ? sql`${value}` : not(total(sql`${value}`))
    case 'day':
      return onDay(value, means, field.type === 'moment', now)
  }
}

/** A test of a field, its opposite left aside. */
function testSql(field: Field<'task'>, of: FieldSql, means: Asked, reading: Reading): SQL {
  if (of.test) return of.test(means)
  const test = valueTest(field, of.value, means, reading)
  if (!of.many) return test
  const { table, link } = of.many
  // A person's open work is one look-up; all they ever had grows with the years.
  return reading.openOnly && table === taskAssignees && means.of === 'list'
    ? sql`${tasks.id} in (select ${openAssignments.taskId} from ${openAssignments}
        where ${openAssignments.personId} in ${values(listFor(means.list, reading.now.me))})`
    : sql`exists (select 1 from ${table} where ${link} and ${test})`
}

/** Words anywhere, found by their index. */
function wordsSql(means: Asked): SQL | null {
  const match = means.of === 'words' ? matchWords(means.text) : null
  return match === null ? null : taskWords(match)
}

/** One test, total or not as it is needed: under `none` nothing must be left undecided. */
type Piece = (decided: boolean) => SQL
function piece(
  field: Field<'task'>,
  means: Asked,
  reading: Reading,
  needs: Set<Join>,
): Piece | null {
  const opposite = 'not' in means && means.not
  const say =
    (test: SQL): Piece =>
    (decided) =>
      opposite ? not(total(test)) : decided ? total(test) : test
  if (field.type === 'words') {
    const found = wordsSql(means)
    return found && say(found)
  }
  const of = fieldSql(field, reading.now)
  if (!of) throw new Refusal('bad-filter', `“${field.label}” cannot be asked in lists.`)
  for (const join of of.needs) needs.add(join)
  return say(testSql(field, of, means, opposite ? { ...reading, openOnly: false } : reading))
}

const asks = (filter: Group, field: string): boolean =>
  [...testsOf(filter)].some((test) => test.field === field)
/** Whether all that a filter finds is open. */
const onlyOpen = (filter: Group): boolean =>
  filter.match === 'all' &&
  filter.of.some((each) => !isGroup(each) && each.field === 'open' && each.value !== false)

/** Whether people's work is found by their open work: nothing closed or archived is asked for. */
export const asksOpenOnly = (filter: Group): boolean =>
  onlyOpen(filter) && !asks(filter, 'archived')

function together(plan: Plan<Piece>, decided: boolean): SQL {
  if ('test' in plan) return plan.test(decided)
  const { match, of } = plan
  if (of.length === 0) return TRUE
  const inner = decided || match === 'none'
  const joined = sql`(${sql.join(
    of.map((part) => sql`(${together(part, inner)})`),
    match === 'all' ? sql` and ` : sql` or `,
  )})`
  return match === 'none' ? not(joined) : joined
}

/**
 * A filter as SQL. What cannot be asked (a field that is gone, a value that does not fit) is left
 * out and named in `faults` with its place, so that the rest still holds.
 */
export function filterSql(engine: Engine, viewer: Viewer, filter: Group): Where {
  const needs = new Set<Join>()
  const reading: Reading = { now: nowFor(engine, viewer.id), openOnly: asksOpenOnly(filter) }
  const { plan, faults } = planned(filter, fieldsFor(engine.reader, viewer), (field, means) =>
    piece(field, means, reading, needs),
  )
  const built = plan ? together(plan, false) : TRUE
  const whole = asks(filter, 'archived') ? built : sql`${tasks.archivedAt} is null and ${built}`
  return { sql: whole, needs, faults: [...faults] }
}

/** The tasks of a scope, as a condition over the tasks. */
export function scopeSql(scope: Scope, openOnly: boolean): SQL {
  switch (scope.of) {
    case 'firm':
      return TRUE
    case 'project':
      return sql`${tasks.projectId} = ${scope.id}`
    case 'client':
      return sql`(${tasks.clientId} = ${scope.id} or (${tasks.clientId} is null
        and ${tasks.projectId} in
          (select ${projects.id} from ${projects} where ${projects.clientId} = ${scope.id})))`
    case 'person': {
      const [table, taskId, personId] = openOnly
        ? [openAssignments, openAssignments.taskId, openAssignments.personId]
        : [taskAssignees, taskAssignees.taskId, taskAssignees.personId]
      return sql`${tasks.id} in (select ${taskId} from ${table} where ${personId} = ${scope.id})`
    }
  }
}
