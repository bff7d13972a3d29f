import { and, desc, eq, inArray, sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import { unionAll } from 'drizzle-orm/sqlite-core'
import type { PersonId } from '#core/brands.ts'
import { most, ready } from '../../database/query.ts'
import { hiddenFrom, seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { listed } from '../../database/sql.ts'
import {
  clients,
  comments,
  people,
  projects,
  rules,
  series,
  states,
  tags,
  tasks,
  templates,
  views,
} from '../../database/tables/index.ts'

/**
 * The full-text index: an FTS5 table over names and texts, without columns of its own that the
 * builder could know. A row's number is four times its item's, and says by the rest which kind it is.
 */
const search = sql.identifier('search')
const ROWID = sql`${search}.rowid`
export const KINDS = ['task', 'comment', 'project', 'client'] as const
const kindIs = (kind: (typeof KINDS)[number]): SQL =>
  sql`${ROWID} % 4 = ${sql.raw(String(KINDS.indexOf(kind)))}`
const ITEM = sql`${ROWID} / 4`

/** Tasks that hold words: in their own texts, or in what is said on them. */
export const taskWords = (match: string): SQL =>
  sql`(${tasks.id} in (select ${ITEM} from ${search} where ${search} match ${match} and ${kindIs('task')})
    or ${tasks.id} in (select ${comments.taskId} from ${search} join ${comments} on ${comments.id} = ${ITEM}
      where ${search} match ${match} and ${kindIs('comment')}))`

/** As many hits as are looked at and told: a screen of them, with places and deeds below. */
export const HITS = 12

/** As many of the newest hits as first hits are looked for among. */
const NEWEST = 80
/**
 * The tasks among the newest hits whose titles hold all words, newest first: what can be told at
 * once, however common the words are, since neither every hit nor its rank is looked at. `match` may
 * say no more of the last word than its beginning.
 */
export const newestTitles = ready((orm, a: { match: string; words: string; sight: Sight }) => {
  const newest = sql`(select ${ITEM} as "id" from ${search}
    where ${search} match ${a.match} and ${kindIs('task')}
    order by ${ROWID} desc limit ${sql.raw(String(NEWEST))}) "newest"`
  return orm
    .select({ id: tasks.id })
    .from(newest)
    .crossJoin(tasks)
    .where(
      and(
        sql`${tasks.id} = "newest"."id"`,
        sql`not exists (select 1 from json_each(${a.words})
          where ${tasks.title} not like '%' || json_each.value || '%')`,
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(desc(tasks.id))
    .limit(most(HITS))
})

/** The full-text question over everything: words in names weigh more than words in texts. */
export const hits = ready((orm, a: { match: string }) =>
  orm
    .select({ rowid: sql<number>`${ROWID}` })
    .from(sql`${search}`)
    .where(sql`${search} match ${a.match} and ${search}.rank match 'bm25(8.0, 1.0)'`)
    .orderBy(sql`${search}.rank`)
    .limit(most(HITS)),
)
/** Whether there is a project that somebody of the firm does not see. */
export const hidden = ready((orm, a: { sight: Sight }) =>
  orm.select({ projects: hiddenFrom(a.sight) }).from(sql`(select 1)`),
)
/**
 * The same among what somebody sees who does not see everything: others' hits take no room from
 * theirs.
 */
export const hitsSeen = ready((orm, a: { match: string; sight: Sight }) => {
  const own = sql`${search} match ${a.match} and ${search}.rank match 'bm25(8.0, 1.0)'`
  const task = sql`(${kindIs('task')} and ${seesTask(a.sight, ITEM)})`
  const comment = sql`(${kindIs('comment')} and exists (select 1 from ${comments} where ${comments.id} = ${ITEM}
    and ${seesTask(a.sight, comments.taskId)}))`
  const project = sql`(${kindIs('project')} and ${seesProject(a.sight, ITEM)})`
  const client = sql`(${kindIs('client')} and ${a.sight.inside})`
  return orm
    .select({ rowid: sql<number>`${ROWID}` })
    .from(sql`${search}`)
    .where(sql`${own} and (${task} or ${comment} or ${project} or ${client})`)
    .orderBy(sql`${search}.rank`)
    .limit(most(HITS))
})

/**
 * The tasks among some that a viewer may see, with just what the find box tells. It begins at the
 * numbers and goes from row to row by them: sorting them into a set first costs more.
 */
export const foundTasks = ready((orm, a: { ids: string; sight: Sight }) => {
  const sought = sql`json_each(${a.ids})`
  return orm
    .select({
      id: tasks.id,
      title: tasks.title,
      state: tasks.state,
      stateName: sql<string>`coalesce(${states.name}, ${tasks.state})`,
      stateColour: states.colour,
      due: tasks.due,
      client: sql<string | null>`(select ${clients.short} from ${clients}
        where ${clients.id} = coalesce(${tasks.clientId}, ${projects.clientId}))`,
    })
    .from(sql`${sought}`)
    .crossJoin(tasks)
    .leftJoin(states, eq(states.id, tasks.stateId))
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .where(and(eq(tasks.id, sql`json_each.value`), seesTask(a.sight, tasks.id)))
})
export const saidIn = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select({ id: comments.id, taskId: comments.taskId, body: comments.body })
    .from(comments)
    .where(and(inArray(comments.id, listed(a.ids)), seesTask(a.sight, comments.taskId))),
)
export const foundProject = ready((orm, a: { id: number; sight: Sight }) =>
  orm
    .select({ name: projects.name })
    .from(projects)
    .where(and(eq(projects.id, a.id), seesProject(a.sight, projects.id))),
)

type NamedKind = 'view' | 'template' | 'series' | 'rule' | 'person' | 'tag'
/** What has a name to be found by, as one shape: the numbers of several kinds stand in one column. */
const namedAs = (
  kind: NamedKind,
  table: { id: SQLWrapper; name: SQLWrapper },
  only = sql`null`,
) => ({
  kind: sql<NamedKind>`${sql.raw(`'${kind}'`)}`.as('kind'),
  id: sql<number>`${table.id}`.as('id'),
  name: sql<string>`${table.name}`.as('name'),
  only: sql<PersonId | null>`${only}`.as('only'),
})

/** Clockwork, saved views, tags and people that are here; `only` says whose a view of one's own is. */
export const named = ready((orm) =>
  unionAll(
    orm
      .select(
        namedAs('view', views, sql`case when ${views.shared} then null else ${views.ownerId} end`),
      )
      .from(views),
    orm.select(namedAs('template', templates)).from(templates),
    orm.select(namedAs('series', series)).from(series),
    orm.select(namedAs('rule', rules)).from(rules),
    orm.select(namedAs('person', people)).from(people).where(eq(people.active, true)),
    orm.select(namedAs('tag', tags)).from(tags),
  ),
)
