import {
  and,
  asc,
  count,
  desc,
  eq,
  gt,
  gte,
  isNull,
  isNotNull,
  lt,
  max,
  or,
  sql,
} from 'drizzle-orm'
import type { ChangeId, ProjectId, RuleId, TaskId } from '#core/brands.ts'
import type { ItemKind, Outcome } from '#contract/words.ts'
import { most, ready, within, type Reader, type Row } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import {
  journal,
  people,
  projects,
  rules,
  runs,
  series,
  tasks,
  turns,
  waits,
} from '../../database/tables/index.ts'

const row = {
  id: rules.id,
  name: rules.name,
  on: rules.on,
  ownerId: rules.ownerId,
  definition: rules.definition,
  pausedBecause: rules.pausedBecause,
  failures: rules.failures,
  since: rules.since,
  version: rules.version,
  updatedAt: rules.updatedAt,
}
export const ruleById = ready((orm, a: { id: RuleId }) =>
  orm.select(row).from(rules).where(eq(rules.id, a.id)),
)
export type RuleRecord = Row<typeof ruleById>
export const allRules = ready((orm) =>
  orm
    .select({ rule: row, owner: { id: people.id, name: people.name, active: people.active } })
    .from(rules)
    .leftJoin(people, eq(people.id, rules.ownerId))
    .orderBy(isNull(rules.pausedBecause), desc(rules.on), asc(rules.name)),
)
/** Rules that are switched on and have not paused themselves. */
export const activeRules = ready((orm) =>
  orm
    .select(row)
    .from(rules)
    .where(and(eq(rules.on, true), isNull(rules.pausedBecause)))
    .orderBy(asc(rules.id)),
)
export const pausedRules = ready((orm) =>
  orm
    .select({ id: rules.id, name: rules.name })
    .from(rules)
    .where(isNotNull(rules.pausedBecause))
    .orderBy(asc(rules.id)),
)

/** How often rules ran since a moment, and when last. */
export const runCounts = ready((orm, a: { since: number }) =>
  orm
    .select({ id: rules.id, runs: count(runs.id), last: max(runs.at) })
    .from(rules)
    .leftJoin(runs, and(eq(runs.ruleId, rules.id), gt(runs.at, a.since)))
    .groupBy(rules.id),
)
export const runCount = ready((orm, a: { id: RuleId; since: number }) =>
  orm
    .select({ runs: count(), last: max(runs.at) })
    .from(runs)
    .where(and(eq(runs.ruleId, a.id), gt(runs.at, a.since))),
)
/** How often a rule ran on something since a moment. */
export const runsOn = within(
  (orm, a: { rule: RuleId; kind: ItemKind; id: number; since: number }) =>
    orm
      .select({ runs: count() })
      .from(runs)
      .where(
        and(
          eq(runs.itemKind, a.kind),
          eq(runs.itemId, a.id),
          eq(runs.ruleId, a.rule),
          gt(runs.at, a.since),
        ),
      ),
)
/** The entry that led to the change an entry belongs to, and who made that change. */
export const causeOf = within((orm, a: { id: number }) =>
  orm
    .select({
      ...{ causeId: journal.causeId, at: journal.at },
      ...{ actorKind: journal.actorKind, actorId: journal.actorId },
    })
    .from(journal)
    .where(eq(journal.id, a.id)),
)
/** How many tasks each rule on late work skipped since a moment. */
export const skippedSince = within((orm, a: { since: number }) =>
  orm
    .select({
      id: rules.id,
      name: rules.name,
      tasks: sql<number>`count(distinct ${runs.itemId})`,
    })
    .from(runs)
    .innerJoin(rules, eq(rules.id, runs.ruleId))
    // Written out, so that the index of what was skipped serves.
    .where(
      and(
        gt(runs.at, a.since),
        sql`${runs.outcome} = 'skipped' and +${runs.itemKind} = 'task'
          and ${rules.definition} ->> '$.trigger.kind' = 'late'`,
      ),
    )
    .groupBy(rules.id),
)

const shown = {
  id: runs.id,
  at: runs.at,
  outcome: runs.outcome,
  summary: runs.summary,
  reasons: runs.reasons,
  times: runs.times,
  rule: { id: rules.id, name: rules.name },
  series: { id: series.id, name: series.name },
  task: { id: tasks.id, title: tasks.title },
  project: { id: projects.id, name: projects.name },
  change: runs.change,
  undone: sql<number>`exists (select 1 from ${journal} where ${journal.undoes} = ${runs.change})`,
}
/** As many runs as one page of the log tells. */
const PAGE = 100
export interface RunPage {
  readonly sight: Sight
  readonly before: number
  readonly rule: RuleId | null
  readonly task: TaskId | null
  readonly project: ProjectId | null
  readonly outcome: Outcome | null
}
type Narrow = 'rule' | 'task' | 'project' | 'outcome'

/** A run on what somebody does not see is not told; of what is gone, its texts are. */
const seesRun = (sight: Sight) =>
  sql`(${sight.all} or case ${runs.itemKind}
    when 'task' then ${seesTask(sight, runs.itemId)}
    when 'project' then ${seesProject(sight, runs.itemId)} else 1 end)`

/** A question for each way of narrowing the log, so that each begins at an index of its own. */
const log = (by: ReadonlySet<Narrow>) =>
  ready((orm, a: { [K in keyof RunPage]: RunPage[K] }) =>
    orm
      .select(shown)
      .from(runs)
      .leftJoin(rules, eq(rules.id, runs.ruleId))
      .leftJoin(series, eq(series.id, runs.seriesId))
      .leftJoin(
        tasks,
        and(eq(runs.itemKind, 'task'), eq(tasks.id, runs.itemId), seesTask(a.sight, tasks.id)),
      )
      .leftJoin(projects, and(eq(projects.id, PROJECT_OF_RUN), seesProject(a.sight, projects.id)))
      .where(
        and(
          lt(runs.id, a.before),
          seesRun(a.sight),
          by.has('rule') ? eq(runs.ruleId, sql`${a.rule}`) : undefined,
          by.has('task')
            ? and(eq(runs.itemKind, 'task'), eq(runs.itemId, sql`${a.task}`))
            : undefined,
          by.has('project')
            ? or(
                and(eq(runs.itemKind, 'project'), eq(runs.itemId, sql`${a.project}`)),
                and(
                  eq(runs.itemKind, 'task'),
                  sql`${runs.itemId} in (select "own"."id" from ${tasks} "own"
                    where "own"."projectId" = ${a.project})`,
                ),
              )
            : undefined,
          by.has('outcome') ? eq(runs.outcome, sql`${a.outcome}`) : undefined,
        ),
      )
      .orderBy(desc(runs.id))
      .limit(most(PAGE)),
  )
const PROJECT_OF_RUN = sql`case ${runs.itemKind} when 'project' then ${runs.itemId} else ${tasks.projectId} end`
const logs = new Map<string, ReturnType<typeof log>>()

/** One page of the run log, newest first, narrowed by what is given. */
export function runLog(reader: Reader, page: RunPage): Row<ReturnType<typeof log>>[] {
  const narrow: readonly Narrow[] = ['rule', 'task', 'project', 'outcome']
  const by = new Set(narrow.filter((name) => page[name] !== null))
  const key = [...by].join()
  let question = logs.get(key)
  if (!question) logs.set(key, (question = log(by)))
  return question.all(reader, { ...page })
}

/** Who of a team was last to take their turn with a rule. */
export const turnOf = ready((orm, a: { id: string }) =>
  orm.select({ personId: turns.personId }).from(turns).where(eq(turns.id, a.id)),
)
/** A run that waits, by the key of its alarm. */
export const waitByKey = ready((orm, a: { key: string }) =>
  orm.select().from(waits).where(eq(waits.key, a.key)),
)
/** Changes of a rule after an entry of the journal. */
export const ruleChanges = ready((orm, a: { rule: RuleId; since: number }) =>
  orm
    .select({ before: journal.before, after: journal.after })
    .from(journal)
    .where(
      and(eq(journal.entity, 'rules'), eq(journal.entityId, a.rule), gte(journal.at, a.since)),
    ),
)
/** Whether a change was taken back. */
export const undoing = ready((orm, a: { change: ChangeId }) =>
  orm.select({ id: journal.id }).from(journal).where(eq(journal.undoes, a.change)).limit(most(1)),
)

/** The entry by which a rule made something, if one did. */
export const madeByRule = within((orm, a: { of: 'tasks' | 'projects' | 'clients'; id: number }) =>
  orm
    .select({ id: journal.id })
    .from(journal)
    .where(
      and(
        eq(journal.entity, a.of),
        eq(journal.entityId, a.id),
        eq(journal.action, 'made'),
        eq(journal.actorKind, 'rule'),
      ),
    ),
)
export const dueOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      id: tasks.id,
      due: tasks.due,
      dueTime: tasks.dueTime,
      closedAt: tasks.closedAt,
      archivedAt: tasks.archivedAt,
    })
    .from(tasks)
    .where(eq(tasks.id, a.id)),
)
/** As many tasks as a rule is put up over at once. */
export const AT_ONCE = 100
/** What is open and has a due date, in the order of that: some, after one. */
export const openDues = within((orm, a: { due: string; id: number }) =>
  orm
    .select({ id: tasks.id, due: tasks.due, dueTime: tasks.dueTime })
    .from(tasks)
    .where(
      and(
        sql`(${tasks.due}, ${tasks.id}) > (${a.due}, ${a.id})`,
        isNull(tasks.closedAt),
        isNull(tasks.archivedAt),
      ),
    )
    .orderBy(asc(tasks.due), asc(tasks.id))
    .limit(most(AT_ONCE)),
)
