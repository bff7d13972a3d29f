import { and, asc, desc, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import type { ProjectId } from '#core/brands.ts'
import { dueGroup, mondayOf, sayWeek, TODAY_GROUPS, TODAY_NAMES } from '#core/query/due-groups.ts'
import { sayMonth } from '#core/text/speak.ts'
import type { Field, Target } from '#core/fields/field.ts'
import type { FieldType } from '#core/fields/types.ts'
import type { TaskQuery } from '#contract/query.ts'
import { ready } from '../../database/query.ts'
import { seesProject } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { listed } from '../../database/sql.ts'
import {
  clients,
  people,
  phases,
  projects,
  series,
  tags,
  templates,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, sightOf, type Viewer } from '../../engine/viewer.ts'
import { allStates, FIRM_SET, setOf, statesOf } from '../states/queries.ts'

/** The heads that groups of a list stand under. */
export type Key = string | number | null
export interface Head {
  readonly key: Key
  readonly name: string
  readonly colour?: string | null
}
export interface Heads {
  /** Those known before anything is grouped, in their order. */
  readonly known: readonly Head[]
  /** The head of a raw value. */
  /** `closed`: it is finished, whenever it was due. */
  head(raw: Key, due: string | null, late: boolean, closed: boolean): Head
}
/** What the heads of a list are worked out from; `keys` are the values that occur, as JSON. */
interface Asked {
  readonly engine: Engine
  readonly viewer: Viewer
  readonly query: TaskQuery
  readonly field: Field<'task'>
  readonly keys: string
  /** Guests learn no names by it. */
  readonly guarded: boolean
}

const peopleHeads = ready((orm, a: { ids: string; every: boolean }) =>
  orm
    .select({ key: people.id, name: people.name })
    .from(people)
    .where(or(sql`${a.every}`, inArray(people.id, listed(a.ids))))
    .orderBy(desc(people.active), sql`${people.access} in ('contractor', 'client')`, people.name),
)
const clientHeads = ready((orm, a: { ids: string; every: boolean }) =>
  orm
    .select({ key: clients.id, name: clients.name })
    .from(clients)
    .where(or(sql`${a.every}`, inArray(clients.id, listed(a.ids))))
    .orderBy(asc(clients.name)),
)
const projectHeads = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select({ key: projects.id, name: projects.name })
    .from(projects)
    .where(and(inArray(projects.id, listed(a.ids)), seesProject(a.sight, projects.id)))
    .orderBy(asc(projects.name)),
)
const runningHeads = ready((orm, a: { sight: Sight }) =>
  orm
    .select({ key: projects.id, name: projects.name })
    .from(projects)
    .where(
      and(
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
        seesProject(a.sight, projects.id),
      ),
    )
    .orderBy(asc(projects.name)),
)
const phasesOfProject = ready((orm, a: { project: ProjectId; sight: Sight }) =>
  orm
    .select({ key: phases.id, name: phases.name })
    .from(phases)
    .where(and(eq(phases.projectId, a.project), seesProject(a.sight, phases.projectId)))
    .orderBy(asc(phases.position)),
)
const phaseHeads = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select({ key: phases.id, name: sql<string>`${projects.name} || ': ' || ${phases.name}` })
    .from(phases)
    .innerJoin(projects, eq(projects.id, phases.projectId))
    .where(and(inArray(phases.id, listed(a.ids)), seesProject(a.sight, projects.id)))
    .orderBy(asc(projects.name), asc(phases.position)),
)
const tagHeads = ready((orm) =>
  orm
    .select({ key: tags.id, name: tags.name, colour: tags.colour })
    .from(tags)
    .orderBy(asc(tags.name)),
)
const templateHeads = ready((orm, a: { ids: string; every: boolean }) =>
  orm
    .select({ key: templates.id, name: templates.name })
    .from(templates)
    .where(or(sql`${a.every}`, inArray(templates.id, listed(a.ids))))
    .orderBy(asc(templates.name)),
)
const seriesHeads = ready((orm, a: { ids: string; every: boolean }) =>
  orm
    .select({ key: series.id, name: series.name })
    .from(series)
    .where(or(sql`${a.every}`, inArray(series.id, listed(a.ids))))
    .orderBy(asc(series.name)),
)

const none = (name: string): Head => ({ key: null, name })
function fixed(known: readonly Head[], empty: Head): Heads {
  const by = new Map(known.map((head) => [head.key, head]))
  return { known, head: (raw) => by.get(raw) ?? empty }
}

/**
 * States of other sets stand with their namesakes: a board of several projects has one column for
 * each name.
 */
function stateHeads({ engine: { reader }, query }: Asked): Heads {
  const set = query.scope.of === 'project' ? setOf(reader, query.scope.id) : FIRM_SET
  const known: Head[] = statesOf(reader, set).map((s) => ({
    key: s.id,
    name: s.name,
    colour: s.colour ?? s.kind,
  }))
  const same = new Map<Key, Head>(known.map((head) => [head.key, head]))
  const byName = new Map(known.map((head) => [head.name.toLowerCase(), head]))
  for (const { id, name, colour, kind } of allStates.all(reader)) {
    const head = byName.get(name.toLowerCase()) ?? { key: id, name, colour: colour ?? kind }
    byName.set(name.toLowerCase(), head)
    same.set(id, head)
  }
  return { known, head: (raw) => same.get(raw) ?? none('In no state') }
}

function projectsAsked({ engine: { reader }, viewer, query, keys }: Asked): Head[] {
  const sight = sightOf(viewer)
  const found = projectHeads.all(reader, { ids: keys, sight })
  if (!query.every) return found
  const also = runningHeads
    .all(reader, { sight })
    .filter((r) => !found.some((f) => f.key === r.key))
  return [...found, ...also].sort((a, b) => (a.name < b.name ? -1 : 1))
}

function dueHeads({ engine }: Asked): Heads {
  const today = engine.firm.today()
  const by = new Map(TODAY_GROUPS.map((key) => [key, { key, name: TODAY_NAMES[key] }]))
  const undated = none('No date')
  const finished: Head = { key: 'finished', name: 'Finished' }
  return {
    known: [...by.values(), finished],
    head: (_, due, late, closed) =>
      closed ? finished : (by.get(dueGroup(due, late, today)) ?? undated),
  }
}

/** Heads by week or month, each made once however many tasks stand under it. */
function datedHeads(keyOf: (due: string) => string, nameOf: (key: string) => string): Heads {
  const made = new Map<string, Head>()
  const byDay = new Map<string, Head>()
  const undated = none('No date')
  return {
    known: [],
    head(_, due) {
      if (due === null) return undated
      let head = byDay.get(due)
      if (!head) {
        const key = keyOf(due)
        head = made.get(key) ?? { key, name: nameOf(key) }
        made.set(key, head)
        byDay.set(due, head)
      }
      return head
    },
  }
}

/** People; guests know of themselves. */
const peopleAsked = ({ engine: { reader }, viewer, query, keys, guarded }: Asked): Heads =>
  fixed(
    guarded && isGuest(viewer)
      ? [{ key: viewer.id, name: viewer.name }]
      : peopleHeads.all(reader, { ids: keys, every: query.every }),
    none('Nobody'),
  )

/** What groups by an item stand under, by the kind of item. */
const ITEMS: Readonly<Partial<Record<Target, (asked: Asked) => Heads>>> = {
  client: ({ engine: { reader }, query, keys }) =>
    fixed(clientHeads.all(reader, { ids: keys, every: query.every }), none('No client')),
  project: (asked) => fixed(projectsAsked(asked), none('In no project')),
  phase: ({ engine: { reader }, viewer, query, keys }) =>
    fixed(
      query.scope.of === 'project'
        ? phasesOfProject.all(reader, { project: query.scope.id, sight: sightOf(viewer) })
        : phaseHeads.all(reader, { ids: keys, sight: sightOf(viewer) }),
      none('In no phase'),
    ),
  template: ({ engine: { reader }, query, keys }) =>
    fixed(templateHeads.all(reader, { ids: keys, every: query.every }), none('From no template')),
  series: ({ engine: { reader }, query, keys }) =>
    fixed(seriesHeads.all(reader, { ids: keys, every: query.every }), none('From no series')),
}
/** What groups by a date stand under. */
const DATES: Readonly<Record<NonNullable<Field['heads']>, (asked: Asked) => Heads>> = {
  standing: dueHeads,
  week: () => datedHeads(mondayOf, sayWeek),
  month: () =>
    datedHeads(
      (due) => `${due.slice(0, 7)}-01`,
      (key) => `${sayMonth(key)} ${key.slice(0, 4)}`,
    ),
}
const choices = ({ field }: Asked): Heads =>
  fixed(
    (field.choices ?? []).map(({ value, name, colour }) => ({
      ...{ key: value, name },
      ...(colour !== undefined && { colour }),
    })),
    none('Not chosen'),
  )
function truths({ field }: Asked): Heads {
  const no = { key: 0, name: `${field.label}: no` }
  return fixed([{ key: 1, name: `${field.label}: yes` }, no], no)
}

const HEADS: Readonly<Partial<Record<FieldType, (asked: Asked) => Heads>>> = {
  state: stateHeads,
  choice: choices,
  'yes-no': truths,
  person: peopleAsked,
  people: peopleAsked,
  tags: ({ engine: { reader } }) => fixed(tagHeads.all(reader), none('No tag')),
  item: (asked) => ITEMS[asked.field.to ?? 'task']?.(asked) ?? fixed([], none('None')),
  date: (asked) => DATES[asked.field.heads ?? 'standing'](asked),
}

/** The heads that groups of a field can have, given the values that occur. */
export function headsOf(
  engine: Engine,
  viewer: Viewer,
  { query, field }: Pick<Asked, 'query' | 'field'>,
  keys: Iterable<Key>,
): Heads {
  const ids = JSON.stringify([...new Set(keys)].filter((key) => typeof key === 'number'))
  const asked = { engine, viewer, query, field, keys: ids, guarded: field.custom !== undefined }
  return HEADS[field.type]?.(asked) ?? fixed([], none('None'))
}
