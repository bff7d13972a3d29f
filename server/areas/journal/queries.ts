import {
  and,
  asc,
  count,
  desc,
  gte,
  eq,
  inArray,
  isNull,
  lt,
  max,
  min,
  sql,
  type SQL,
} from 'drizzle-orm'
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core'
import type { ChangeId, ClientId, PersonId, ProjectId, TaskId } from '#core/brands.ts'
import { most, ready, within, type Question, type Reader, type Row } from '../../database/query.ts'
import { seesEntry, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { listed } from '../../database/sql.ts'
import type { ItemKind } from '#contract/words.ts'
import type { Entity } from '../../database/tables/engine.ts'
import {
  clients,
  clientTags,
  clientValues,
  fields,
  fieldValues,
  hiddenFields,
  journal,
  outbox,
  people,
  projects,
  projectValues,
  ruleOffs,
  rules,
  series,
  taskAssignees,
  taskFollowers,
  taskTags,
  tasks,
  teamMembers,
  tokens,
} from '../../database/tables/index.ts'

/** What is asked of the record of changes. */

const entry = {
  id: journal.id,
  change: journal.change,
  at: journal.at,
  actorKind: journal.actorKind,
  actorId: journal.actorId,
  tokenId: journal.tokenId,
  entity: journal.entity,
  entityId: journal.entityId,
  action: journal.action,
  itemKind: journal.itemKind,
  itemId: journal.itemId,
  projectId: journal.projectId,
  before: journal.before,
  after: journal.after,
}
const actor = {
  person: people.name,
  rule: rules.name,
  series: series.name,
  token: tokens.name,
}

/** The newest entries of a task, for whoever may see it. */
export const entriesOfTask = ready((orm, a: { task: TaskId; sight: Sight }) =>
  orm
    .select({ ...entry, ...actor })
    .from(journal)
    .leftJoin(people, and(eq(journal.actorKind, 'person'), eq(people.id, journal.actorId)))
    .leftJoin(rules, and(eq(journal.actorKind, 'rule'), eq(rules.id, journal.actorId)))
    .leftJoin(series, and(eq(journal.actorKind, 'series'), eq(series.id, journal.actorId)))
    .leftJoin(tokens, eq(tokens.id, journal.tokenId))
    .where(
      and(
        eq(journal.itemKind, 'task'),
        eq(journal.itemId, a.task),
        seesTask(a.sight, journal.itemId),
      ),
    )
    .orderBy(desc(journal.id))
    .limit(most(300)),
)

/** As many changes as one page of the journal tells, and one more. */
export const PAGE = 60
const heads = {
  change: journal.change,
  at: sql<number>`min(${journal.at})`,
  actorKind: journal.actorKind,
  actorId: journal.actorId,
  tokenId: journal.tokenId,
  undoes: max(journal.undoes),
  undone: sql<ChangeId | null>`(select max("later"."change") from ${journal} "later"
    where "later"."undoes" = ${sql`${journal.change}`})`,
  tasks: sql<number>`count(distinct case when ${journal.itemKind} = 'task' then ${journal.itemId} end)`,
  firstEntry: min(journal.id),
}
/** Changes before one, newest first, as far as somebody sees them; looked for down to a floor. */
export const changesBefore = ready((orm, a: { before: number; floor: number; sight: Sight }) =>
  orm
    .select(heads)
    .from(journal)
    .where(
      and(lt(journal.change, a.before), gte(journal.change, a.floor), seesEntry(a.sight, journal)),
    )
    .groupBy(journal.change)
    .orderBy(desc(journal.change))
    .limit(most(PAGE + 1)),
)
/** The numbers of the changes of a project before one, newest first. */
export const changesInProject = ready(
  (orm, a: { project: ProjectId; before: number; sight: Sight }) =>
    orm
      .selectDistinct({ change: journal.change })
      .from(journal)
      .where(
        and(
          eq(journal.projectId, a.project),
          lt(journal.change, a.before),
          seesEntry(a.sight, journal),
        ),
      )
      .orderBy(desc(journal.change))
      .limit(most(PAGE + 1)),
)
/** So many changes are looked through for one page of those by somebody, or about something. */
export const LOOKED = 20_000
/** What is done for a client, if one is asked about: in its projects, on its tasks, to itself. */
const forClient = (client: ClientId | null): SQL => sql`(${client} is null
  or ${journal.projectId} in (select ${projects.id} from ${projects}
    where ${projects.clientId} = ${client})
  or (${journal.itemKind} = 'client' and ${journal.itemId} = ${client})
  or (${journal.itemKind} = 'task' and ${journal.itemId} in (select ${tasks.id}
    from ${tasks} where ${tasks.clientId} = ${client})))`

/**
 * Changes before one, newest first, by somebody or about some kinds of rows, among the last so many:
 * the journal has no index of who, since every write would pay for it.
 */
export const changesBy = ready(
  (
    orm,
    a: {
      before: number
      floor: number
      person: PersonId | null
      itself: number
      entities: string | null
      project: ProjectId | null
      client: ClientId | null
      sight: Sight
    },
  ) =>
    orm
      .selectDistinct({ change: journal.change })
      .from(journal)
      .where(
        and(
          lt(journal.change, a.before),
          gte(journal.change, a.floor),
          sql`(${a.person} is null or (${journal.actorKind} = 'person' and ${journal.actorId} = ${a.person}))`,
          sql`(${a.itself} = 0 or ${journal.actorKind} <> 'person')`,
          sql`(${a.entities} is null or ${journal.entity} in (select value from json_each(${a.entities})))`,
          sql`(${a.project} is null or ${journal.projectId} = ${a.project})`,
          forClient(a.client),
          seesEntry(a.sight, journal),
        ),
      )
      .orderBy(desc(journal.change))
      .limit(most(PAGE + 1)),
)
export const changesIn = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select(heads)
    .from(journal)
    .where(and(inArray(journal.change, listed(a.ids)), seesEntry(a.sight, journal)))
    .groupBy(journal.change)
    .orderBy(desc(journal.change)),
)

/** As many entries as tell what a change did. */
const TOLD = 12
/** The first entries of each of some changes; of what is done for a client, where one is asked about. */
export const firstEntries = ready(
  (orm, a: { changes: string; client: ClientId | null; sight: Sight }) => {
    const numbered = orm
      .select({
        ...entry,
        nth: sql<number>`row_number() over (partition by ${journal.change} order by ${journal.id})`.as(
          'nth',
        ),
      })
      .from(journal)
      .where(
        and(
          inArray(journal.change, listed(a.changes)),
          forClient(a.client),
          seesEntry(a.sight, journal),
        ),
      )
      .as('numbered')
    return orm
      .select()
      .from(numbered)
      .where(sql`${numbered.nth} <= ${sql.raw(String(TOLD))}`)
      .orderBy(asc(numbered.change), asc(numbered.id))
  },
)

/** Which field a value was of: from its making, since the row itself may be gone. */
export const fieldOfValue = within((orm, a: { id: number; before: number }) =>
  orm
    .select({ fieldId: sql<number | null>`json_extract(${journal.after}, '$.fieldId')` })
    .from(journal)
    .where(
      and(
        eq(journal.entity, 'fieldValues'),
        eq(journal.entityId, a.id),
        eq(journal.action, 'made'),
        lt(journal.id, a.before),
      ),
    )
    .orderBy(desc(journal.id))
    .limit(most(1)),
)

/** The entries of a change, newest first: the way in which they are taken back. */
/** Entries of a change before one of them, newest first: a page of them. */
export const entriesOfChange = within((orm, a: { change: ChangeId; before: number }) =>
  orm
    .select()
    .from(journal)
    .where(and(eq(journal.change, a.change), lt(journal.id, a.before)))
    .orderBy(desc(journal.id))
    .limit(most(500)),
)
/** All of them in pages, newest first. */
export function* pagesOfChange(
  reader: Reader,
  change: ChangeId,
): Generator<Row<typeof entriesOfChange>[], void> {
  for (let before = Number.MAX_SAFE_INTEGER; ;) {
    const page = entriesOfChange.all(reader, { change, before })
    if (page.length === 0) return
    yield page
    before = page.at(-1)!.id
  }
}
/** How many entries a change has, and whether the firm began with it. */
export const sizeOfChange = within((orm, a: { change: ChangeId }) =>
  orm
    .select({
      entries: count(),
      began: max(sql<number>`${journal.entity} = 'firm' and ${journal.action} = 'made'`),
    })
    .from(journal)
    .where(eq(journal.change, a.change)),
)
/** The changes that took one back. */
export const undosOf = within((orm, a: { change: ChangeId }) =>
  orm.selectDistinct({ change: journal.change }).from(journal).where(eq(journal.undoes, a.change)),
)

const step = {
  id: journal.id,
  change: journal.change,
  entityId: journal.entityId,
  action: journal.action,
  before: journal.before,
  after: journal.after,
}
/** The history of a row, oldest first, but for what only took changes back. */
export const entriesOfRow = within((orm, a: { entity: Entity; id: number }) =>
  orm
    .select(step)
    .from(journal)
    .where(and(eq(journal.entity, a.entity), eq(journal.entityId, a.id), isNull(journal.undoes)))
    .orderBy(asc(journal.id)),
)
/** The same of all rows of a kind that belong to an item. */
export const entriesOfLinks = within((orm, a: { entity: Entity; kind: ItemKind; item: number }) =>
  orm
    .select(step)
    .from(journal)
    .where(
      and(
        eq(journal.itemKind, a.kind),
        eq(journal.itemId, a.item),
        eq(journal.entity, a.entity),
        isNull(journal.undoes),
      ),
    )
    .orderBy(asc(journal.id)),
)
/** A task taken to a rung, and nothing else: what ladders keep for themselves is no work on it. */
const BOOKKEEPING = sql`(${journal.entity} = 'tasks' and ${journal.action} = 'changed'
  and json_remove(${journal.after}, '$.rung', '$.rungOf') = '{}')`
/** The changes that had to do with a task or a project, or with anything in it. */
export const othersOnItem = {
  tasks: within((orm, a: { id: number }) =>
    orm
      .selectDistinct({ change: journal.change })
      .from(journal)
      .where(
        and(
          eq(journal.itemKind, 'task'),
          eq(journal.itemId, a.id),
          isNull(journal.undoes),
          sql`not ${BOOKKEEPING}`,
        ),
      ),
  ),
  projects: within((orm, a: { id: number }) =>
    orm
      .selectDistinct({ change: journal.change })
      .from(journal)
      .where(and(eq(journal.projectId, a.id), isNull(journal.undoes), sql`not ${BOOKKEEPING}`)),
  ),
}
/** The first row of a table whose column names the row with some number. */
const pointing = (table: SQLiteTable & { id: SQLiteColumn }, column: SQLiteColumn | SQL) =>
  within((orm, a: { id: number }) =>
    orm
      .select({ id: sql<number>`${table.id}` })
      .from(table)
      .where(sql`${column} = ${a.id}`)
      .limit(most(1)),
  )
/** Whether something points at a row that would be lost, or cut loose, with it. */
export const inUse: Partial<Record<Entity, readonly Question<{ id: number }, { id: number }>[]>> = {
  tags: [pointing(taskTags, taskTags.tagId), pointing(clientTags, clientTags.tagId)],
  fields: [
    pointing(fieldValues, fieldValues.fieldId),
    pointing(projectValues, projectValues.fieldId),
    pointing(clientValues, clientValues.fieldId),
  ],
  clientStates: [pointing(clients, clients.stateId)],
  templates: [
    pointing(projects, projects.templateId),
    pointing(fields, fields.templateId),
    // Inside JSON, where the builder has no columns.
    pointing(series, sql`${series.makes} ->> 'templateId'`),
  ],
}

type Ends = { one: number; other: number }
const tying = (table: SQLiteTable & { id: SQLiteColumn }, one: SQLiteColumn, other: SQLiteColumn) =>
  within((orm, a: { [K in keyof Ends]: Ends[K] }) =>
    orm
      .select({ id: sql<number>`${table.id}` })
      .from(table)
      .where(and(sql`${one} = ${a.one}`, sql`${other} = ${a.other}`)),
  )
/** The number of the row that ties two things together now. */
export const linkNow: Partial<Record<Entity, Question<Ends, { id: number }>>> = {
  taskAssignees: tying(taskAssignees, taskAssignees.taskId, taskAssignees.personId),
  taskFollowers: tying(taskFollowers, taskFollowers.taskId, taskFollowers.personId),
  taskTags: tying(taskTags, taskTags.taskId, taskTags.tagId),
  fieldValues: tying(fieldValues, fieldValues.taskId, fieldValues.fieldId),
  projectValues: tying(projectValues, projectValues.projectId, projectValues.fieldId),
  clientValues: tying(clientValues, clientValues.clientId, clientValues.fieldId),
  clientTags: tying(clientTags, clientTags.clientId, clientTags.tagId),
  hiddenFields: tying(hiddenFields, hiddenFields.projectId, hiddenFields.fieldId),
  ruleOffs: tying(ruleOffs, ruleOffs.projectId, ruleOffs.ruleId),
  teamMembers: tying(teamMembers, teamMembers.teamId, teamMembers.personId),
}

/** The mails that a change wrote. */
export const mailsOf = within((orm, a: { change: ChangeId }) =>
  orm
    .select({ id: outbox.id, recipient: outbox.recipient, state: outbox.state })
    .from(outbox)
    // Written out, so that the index of those that a change wrote serves.
    .where(sql`${outbox.change} is not null and ${outbox.change} = ${a.change}`)
    .orderBy(asc(outbox.id)),
)
/** Whether a change made, changed or removed an owner. */
/** An entry of a change that somebody does not see. */
export const unseenIn = ready((orm, a: { change: ChangeId; sight: Sight }) =>
  orm
    .select({ id: journal.id })
    .from(journal)
    .where(and(eq(journal.change, a.change), sql`not ${seesEntry(a.sight, journal)}`))
    .limit(most(1)),
)
/** The newest change there is. */
export const newestChange = ready((orm) =>
  orm.select({ change: max(journal.change) }).from(journal),
)
export const ofOwners = within((orm, a: { change: ChangeId }) =>
  orm
    .select({ id: journal.id })
    .from(journal)
    .where(
      and(
        eq(journal.change, a.change),
        eq(journal.entity, 'people'),
        sql`'owner' in (json_extract(${journal.before}, '$.access'), json_extract(${journal.after}, '$.access'))`,
      ),
    )
    .limit(most(1)),
)
export const anOwner = within((orm) =>
  orm
    .select({ id: people.id })
    .from(people)
    .where(and(eq(people.access, 'owner'), eq(people.active, true)))
    .limit(most(1)),
)
