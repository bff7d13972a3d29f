import { sql, type SQL } from 'drizzle-orm'
import type { Field } from '#core/fields/field.ts'
import type { Fault } from '#core/conditions/condition.ts'
import type { Outline, OutlineGroup, TaskQuery } from '#contract/query.ts'
import { ask } from '../../database/query.ts'
import { tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, sightOf, type Viewer } from '../../engine/viewer.ts'
import { fieldsFor } from '../fields/queries.ts'
import { fieldSql, JOIN_ORDER, JOINS, type FieldSql } from './fields.ts'
import { asksOpenOnly, filterSql, nowFor, scopeSql } from './filter.ts'
import { headsOf, type Head, type Key } from './heads.ts'
import { lateIn } from './late.ts'

/** As many tasks as one outline tells, where nobody asks for more. */
const MOST = 20_000

export interface Compiled {
  /** The tables, joined; conditions follow after `where`. */
  readonly from: SQL
  readonly where: SQL
  readonly order: SQL
  readonly group: FieldSql | null
  /** What the groups are by. */
  readonly by: Field<'task'> | null
  readonly sums: readonly FieldSql[]
  readonly faults: readonly Fault[]
}

const comma = sql`, `
/** The order of lists that name none: by due, what has none last. */
const DUE_ORDER = sql`${tasks.due} is null, ${tasks.due},
  ${tasks.dueTime} is null, ${tasks.dueTime}, ${tasks.position}, ${tasks.id}`
const HAND_ORDER = sql`${tasks.position}, ${tasks.id}`

/** Nulls last, whichever way it goes. */
function ordered({ order, value }: FieldSql, down: boolean): SQL {
  const by = order ?? [value]
  const way = down ? sql` desc` : sql``
  return sql`(${by[0]}) is null, ${sql.join(
    by.map((part) => sql`${part}${way}`),
    comma,
  )}`
}

/** A query as pieces of SQL; what it cannot do is in `faults`, the rest holds. */
export function compile(engine: Engine, viewer: Viewer, query: TaskQuery): Compiled {
  const scope = scopeSql(query.scope, asksOpenOnly(query.filter))
  const { sql: where, faults, needs } = filterSql(engine, viewer, query.filter)
  const lookup = fieldsFor(engine.reader, viewer)
  const now = nowFor(engine, viewer.id)
  const field = (name: string, place: string, may: 'groups' | 'sorts' | 'sums'): FieldSql[] => {
    const known = lookup(name)
    const found = known?.[may] ? fieldSql(known, now) : undefined
    if (!known) faults.push({ place, detail: 'This field is not there any more; choose another.' })
    else if (!found)
      faults.push({ place, detail: `“${known.label}” cannot do that; choose another.` })
    for (const join of found?.needs ?? []) needs.add(join)
    return found ? [found] : []
  }
  const [group = null] = query.group === null ? [] : field(query.group, 'group', 'groups')
  const sums = query.sums.flatMap((name) => field(name, 'sums', 'sums'))
  const sorted = query.sort.flatMap(({ field: name, down }, i) =>
    field(name, `sort.${i}`, 'sorts').map((found) => ordered(found, down)),
  )
  const usual = query.scope.of === 'project' ? HAND_ORDER : DUE_ORDER
  if (needs.has('client')) needs.add('project')
  const joins = JOIN_ORDER.filter((join) => needs.has(join)).map((join) => JOINS[join])
  if (group?.many) joins.push(sql`left join ${group.many.table} on ${group.many.link}`)
  return {
    from: sql.join([sql`${tasks}`, ...joins], sql` `),
    where: sql`${scope} and ${where}`,
    order: sorted.length ? sql`${sql.join(sorted, comma)}, ${tasks.id}` : usual,
    group,
    by: (group && lookup(query.group ?? '')) ?? null,
    sums,
    faults,
  }
}

type Line = [
  id: number,
  parent: number | null,
  minutes: number,
  key: Key,
  due: string | null,
  late: number,
  closed: number,
  start: string | null,
  ...sums: (number | null)[],
]

/** Children under their parents, as deep as they go; those whose parent is elsewhere at the top. */
function asTree(lines: readonly Line[]): { ids: number[]; depths: number[] } {
  const here = new Set(lines.map((line) => line[0]))
  const under = new Map<number | null, number[]>()
  for (const [id, parent] of lines) {
    const at = parent !== null && here.has(parent) ? parent : null
    const list = under.get(at)
    if (list) list.push(id)
    else under.set(at, [id])
  }
  const ids: number[] = []
  const depths: number[] = []
  const walk = (parent: number | null, depth: number) => {
    for (const id of under.get(parent) ?? []) {
      ids.push(id)
      depths.push(depth)
      if (under.has(id)) walk(id, depth + 1)
    }
  }
  walk(null, 0)
  return { ids, depths }
}

/** Lines by the head they stand under; `known` are the heads in their order. */
function grouped(
  engine: Engine,
  viewer: Viewer,
  { query, by: field }: { query: TaskQuery; by: Field<'task'> | null },
  lines: Line[],
): { known: readonly Head[]; found: Map<Head, Line[]> } {
  if (field === null) return { known: [], found: new Map([[{ key: null, name: '' }, lines]]) }
  const { known, head } = headsOf(
    engine,
    viewer,
    { query, field },
    lines.map((line) => line[3]),
  )
  const found = new Map<Head, Line[]>()
  const byKey = new Map<Key, Head>()
  const put = (own: Head): Line[] => {
    const one = byKey.get(own.key) ?? own
    byKey.set(own.key, one)
    let list = found.get(one)
    if (!list) found.set(one, (list = []))
    return list
  }
  if (query.every && !isGuest(viewer)) for (const each of known) put(each)
  for (const line of lines) put(head(line[3], line[4], line[5] === 1, line[6] === 1)).push(line)
  return { known, found }
}

/** Where a group stands: known ones in their order, others by name or date, none last. */
function placing(
  by: Field<'task'> | null,
  known: readonly Head[],
): (head: Head) => [number, string] {
  const rank = new Map(known.map((head, i) => [head.key, i]))
  const dated = by?.heads === 'week' || by?.heads === 'month'
  return ({ key, name }) => {
    if (key === null) return [2, '']
    if (dated) return [1, String(key)]
    const at = rank.get(key)
    return at === undefined ? [1, name] : [0, String(at).padStart(6, '0')]
  }
}

function groupOf(query: TaskQuery, c: Compiled, head: Head, own: Line[]): OutlineGroup {
  const tree = query.tree && own.some((line) => line[1] !== null)
  const sums: Record<string, number> = {}
  for (const [i, name] of query.sums.slice(0, c.sums.length).entries())
    sums[name] = own.reduce((sum, line) => sum + (Number(line[8 + i]) || 0), 0)
  return {
    key: head.key,
    name: head.name,
    colour: head.colour ?? null,
    ...(tree ? asTree(own) : { ids: own.map((line) => line[0]) }),
    minutes: own.reduce((sum, line) => sum + line[2], 0),
    sums,
  }
}

/** The first and the last day that lines lie on. */
function spanOf(lines: readonly Line[]): Outline['span'] {
  let [first, last] = ['9', '']
  for (const [, , , , due, , , start] of lines) {
    if (due === null) continue
    if (due > last) last = due
    if ((start ?? due) < first) first = start ?? due
  }
  return last ? { first, last } : null
}

/** What a query finds, in order and in groups, without the rows. */
export function outline(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
  most: number = MOST,
): Outline {
  const c = compile(engine, viewer, query)
  const late = lateIn(engine.firm.nowLocal())
  const columns = [
    tasks.id,
    tasks.parentId,
    sql`coalesce(${tasks.estimate}, 0)`,
    c.group?.value ?? sql`null`,
    tasks.due,
    late,
    sql`${tasks.closedAt} is not null`,
    tasks.start,
    ...c.sums.map((sum) => sum.value),
  ]
  const lines = ask<Line>(
    engine.reader,
    sightOf(viewer),
    (sees) =>
      sql`select ${sql.join(columns, comma)} from ${c.from}
        where ${sees()} and ${c.where} order by ${c.order} limit ${sql.raw(String(most + 1))}`,
  )
  const cut = lines.length > most
  if (cut) lines.length = most
  const { known, found } = grouped(engine, viewer, { query, by: c.by }, lines)
  const place = placing(c.by, known)
  const groups = [...found].map(([head, own]) => ({
    at: place(head),
    group: groupOf(query, c, head, own),
  }))
  groups.sort(({ at: a }, { at: b }) => a[0] - b[0] || (a[1] < b[1] ? -1 : a[1] > b[1] ? 1 : 0))
  return {
    groups: groups.map(({ group }) => group),
    total: new Set(lines.map((line) => line[0])).size,
    cut,
    span: spanOf(lines),
    faults: c.faults,
  }
}
