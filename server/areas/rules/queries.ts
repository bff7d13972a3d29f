import { and, asc, count, desc, eq, gt, gte, isNull, isNotNull, max, sql } from 'drizzle-orm'
import type { ChangeId, RuleId, TaskId } from '#core/brands.ts'
import type { ItemKind } from '#contract/words.ts'
import { most, ready, within, type Row } from '../../database/query.ts'
import { journal, people, rules, runs, tasks, turns, waits } from '../../database/tables/index.ts'

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
