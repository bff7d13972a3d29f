import type { IsoDate } from '#core/brands.ts'
import { dueGroup, mondayOf, sayWeek, TODAY_GROUPS, TODAY_NAMES } from '#core/query/due-groups.ts'
import { sayMonth } from '#core/text/speak.ts'
import { customId } from '#contract/fields.ts'
import type { Fault, Outline, OutlineGroup, TaskQuery } from '#contract/query.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'
import { fieldRow } from '../fields/queries.ts'
import { FIRM_SET, setOf, statesOf } from '../states/queries.ts'
import { fieldSql, JOIN_ORDER, JOINS, type FieldSql, type Join } from './fields.ts'
import { filterSql, scopeSql } from './filter.ts'
import { DUE_ORDER, visible } from './queries.ts'

/** As many tasks as one outline tells. */
const MOST = 20_000

type Key = string | number | null
interface Head {
  key: Key
  name: string
  colour?: string | null
}

export interface Compiled {
  /** From `from tasks t` to the end of `where`. */
  readonly from: string
  readonly args: (string | number)[]
  readonly order: string
  readonly group: FieldSql | null
  readonly sums: readonly FieldSql[]
  readonly faults: Fault[]
}

/** A query as pieces of SQL; what it cannot do is in `faults`, the rest holds. */
export function compile(engine: Engine, viewer: Viewer, query: TaskQuery): Compiled {
  const seen = visible(viewer)
  const scope = scopeSql(query.scope)
  const where = filterSql(engine, viewer, query.filter)
  const { faults, needs } = where
  for (const join of scope.needs) needs.add(join)
  const field = (name: string, place: string): FieldSql | null => {
    const found = fieldSql(engine, name)
    if (!found) faults.push({ place, detail: 'This field is not there any more; choose another.' })
    else for (const join of found.needs) needs.add(join)
    return found ?? null
  }
  const group = query.group === null ? null : field(query.group, 'group')
  const sums = query.sums.map((name) => field(name, 'sums'))
  const sorted = query.sort.flatMap(({ field: name, down }, i) => {
    const found = field(name, `sort.${i}`)
    if (!found) return []
    const by = found.order ?? found.value
    return [
      `(${by.split(', ')[0]}) is null, ${by
        .split(', ')
        .map((part) => `${part}${down ? ' desc' : ''}`)
        .join(', ')}`,
    ]
  })
  const usual = query.scope.of === 'project' ? 't.position, t.id' : DUE_ORDER
  if (needs.has('c')) needs.add('p')
  const joins = JOIN_ORDER.filter((j: Join) => needs.has(j)).map((j) => JOINS[j])
  const many = group?.many ? [`left join ${group.many} m on m.taskId = t.id`] : []
  return {
    from: `from tasks t ${[...joins, ...many].join(' ')} where ${seen.sql} and ${scope.sql} and ${where.sql}`,
    args: [...seen.args, ...scope.args, ...where.args],
    order: sorted.length ? `${sorted.join(', ')}, t.id` : usual,
    group,
    sums: sums.filter((s): s is FieldSql => s !== null),
    faults,
  }
}

/** The heads a group field can have, in the order they stand, and how a raw value finds its own. */
function heads(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
): { known: Head[]; head(raw: Key, due: string | null, late: boolean): Head } {
  const { db, firm } = engine
  const name = query.group!
  const none = (text: string) => ({ key: null, name: text })
  const fixed = (known: Head[], empty: Head): ReturnType<typeof heads> => {
    const by = new Map(known.map((h) => [h.key, h]))
    return { known, head: (raw) => by.get(raw) ?? empty }
  }
  const rows = (sql: string, ...args: unknown[]) => db.prepare(sql).all(...args) as Head[]
  switch (name) {
    case 'state': {
      // States of other sets stand with their namesakes: a board of several projects has one column
      // for each name.
      const own = statesOf(db, query.scope.of === 'project' ? setOf(db, query.scope.id) : FIRM_SET)
      const heads: Head[] = own.map((s) => ({
        key: s.id,
        name: s.name,
        colour: s.colour ?? s.kind,
      }))
      const same = new Map<Key, Head>(heads.map((h) => [h.key, h]))
      const byName = new Map(heads.map((h) => [h.name.toLowerCase(), h]))
      for (const s of rows(
        'select id as key, name, coalesce(colour, kind) as colour from states order by setId, position',
      )) {
        const head = byName.get(s.name.toLowerCase()) ?? s
        if (head === s) {
          byName.set(s.name.toLowerCase(), s)
          heads.push(s)
        }
        same.set(s.key, head)
      }
      return {
        known: heads.slice(0, own.length),
        head: (raw) => same.get(raw) ?? none('In no state'),
      }
    }
    case 'kind':
      return fixed(
        STATES.map((key) => ({ key, name: STATE_NAMES[key], colour: key })),
        none('In no state'),
      )
    case 'priority':
      return fixed(
        [...PRIORITIES].reverse().map((key) => ({ key, name: PRIORITY_NAMES[key] })),
        none('No priority'),
      )
    case 'assignee':
    case 'creator':
      return fixed(
        rows(
          "select id as key, name from people order by active desc, access in ('contractor', 'client'), name",
        ),
        none('Nobody'),
      )
    case 'client':
      return fixed(rows('select id as key, name from clients order by name'), none('No client'))
    case 'tier':
      return fixed(
        ['gold', 'silver', 'bronze'].map((key) => ({
          key,
          name: key[0]!.toUpperCase() + key.slice(1),
        })),
        none('No client'),
      )
    case 'project':
      return fixed(
        rows('select id as key, name from projects order by name'),
        none('In no project'),
      )
    case 'phase': {
      const of =
        query.scope.of === 'project'
          ? rows(
              'select id as key, name from phases where projectId = ? order by position',
              query.scope.id,
            )
          : null
      return fixed(
        of ??
          rows(
            "select ph.id as key, p.name || ': ' || ph.name as name from phases ph join projects p on p.id = ph.projectId order by p.name, ph.position",
          ),
        none('In no phase'),
      )
    }
    case 'tag':
      return fixed(rows('select id as key, name, colour from tags order by name'), none('No tag'))
    case 'template':
      return fixed(
        rows('select id as key, name from templates order by name'),
        none('From no template'),
      )
    case 'series':
      return fixed(rows('select id as key, name from series order by name'), none('From no series'))
    case 'due': {
      const today = firm.today()
      const all = TODAY_GROUPS.map((key) => ({ key, name: TODAY_NAMES[key] }))
      return {
        known: all,
        head: (_, due, late) => all.find((h) => h.key === dueGroup(due, late, today))!,
      }
    }
    case 'week':
    case 'month': {
      const made = new Map<string, Head>()
      return {
        known: [],
        head(_, due) {
          if (due === null) return none('No date')
          const key = name === 'week' ? mondayOf(due) : (`${due.slice(0, 7)}-01` as IsoDate)
          let head = made.get(key)
          if (!head)
            made.set(
              key,
              (head = {
                key,
                name: name === 'week' ? sayWeek(key) : `${sayMonth(key)} ${key.slice(0, 4)}`,
              }),
            )
          return head
        },
      }
    }
    default: {
      const field = fieldRow(db, customId(name)!)!
      if (field.kind === 'choice')
        return fixed(
          (field.options.choices ?? []).map((c) => ({
            key: c.key,
            name: c.name,
            colour: c.colour,
          })),
          none('Not chosen'),
        )
      if (field.kind === 'yes-no')
        return fixed(
          [
            { key: 1, name: `${field.name}: yes` },
            { key: 0, name: `${field.name}: no` },
          ],
          { key: 0, name: `${field.name}: no` },
        )
      return fixed(
        isGuest(viewer)
          ? [{ key: viewer.id, name: viewer.name }]
          : rows('select id as key, name from people order by name'),
        none('Nobody'),
      )
    }
  }
}

type Line = [
  id: number,
  parent: number | null,
  minutes: number,
  key: Key,
  due: string | null,
  late: number,
  ...sums: (number | null)[],
]

/**
 * Children under their parents, as deep as they go; those whose parent is elsewhere stand at the
 * top.
 */
function asTree(lines: readonly Line[]): { ids: number[]; depths: number[] } {
  const here = new Set(lines.map((l) => l[0]))
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

/** What a query finds, in order and in groups, without the rows. */
export function outline(engine: Engine, viewer: Viewer, query: TaskQuery): Outline {
  const c = compile(engine, viewer, query)
  const { date, time } = engine.firm.nowLocal()
  const lines = engine.db
    .prepare(
      `select t.id, t.parentId, coalesce(t.estimate, 0), ${c.group?.value ?? 'null'}, t.due, (t.closedAt is null and (t.due < ? or (t.due = ? and t.dueTime <= ?)))${c.sums.map((s) => `, ${s.value}`).join('')}
       ${c.from} order by ${c.order} limit ${MOST + 1}`,
    )
    .raw()
    .all(date, date, time, ...c.args) as Line[]
  const cut = lines.length > MOST
  if (cut) lines.length = MOST
  const found = new Map<Head, Line[]>()
  let known: readonly Head[] = []
  if (c.group === null) found.set({ key: null, name: '' }, lines)
  else {
    const { known: all, head } = heads(engine, viewer, query)
    known = all
    const byKey = new Map<Key, Head>()
    if (query.every && !isGuest(viewer))
      for (const each of known) {
        byKey.set(each.key, each)
        found.set(each, [])
      }
    for (const line of lines) {
      const own = head(line[3], line[4], line[5] === 1)
      const one = byKey.get(own.key) ?? (byKey.set(own.key, own), own)
      const list = found.get(one)
      if (list) list.push(line)
      else found.set(one, [line])
    }
  }
  const rank = new Map(known.map((h, i) => [h.key, i]))
  const dated = query.group === 'week' || query.group === 'month'
  const place = (head: Head): [number, string] =>
    head.key === null
      ? [2, '']
      : dated
        ? [1, String(head.key)]
        : rank.has(head.key)
          ? [0, String(rank.get(head.key)).padStart(6, '0')]
          : [1, head.name]
  const groups = [...found].map(([head, own]): OutlineGroup => {
    const shape =
      query.tree && own.some((l) => l[1] !== null) ? asTree(own) : { ids: own.map((l) => l[0]) }
    const sums: Record<string, number> = {}
    c.sums.forEach(
      (_, i) => (sums[query.sums[i]!] = own.reduce((sum, l) => sum + (Number(l[6 + i]) || 0), 0)),
    )
    return {
      key: head.key,
      name: head.name,
      colour: head.colour ?? null,
      ...shape,
      minutes: own.reduce((sum, l) => sum + l[2], 0),
      sums,
    }
  })
  groups.sort((a, b) => {
    const [x, y] = [place(a), place(b)]
    return x[0] - y[0] || (x[1] < y[1] ? -1 : x[1] > y[1] ? 1 : 0)
  })
  return { groups, total: new Set(lines.map((l) => l[0])).size, cut, faults: c.faults }
}
