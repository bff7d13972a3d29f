import {
  and,
  asc,
  count,
  desc,
  eq,
  gt,
  gte,
  inArray,
  isNotNull,
  isNull,
  lt,
  lte,
  max,
  min,
  notInArray,
  or,
} from 'drizzle-orm'
import type { ChangeId, PersonId } from '#core/brands.ts'
import type { AlarmKind, ItemKind } from '#contract/words.ts'
import { most, ready, type Row } from '../database/query.ts'
import { listed } from '../database/sql.ts'
import {
  alarms,
  firm,
  holidays,
  journal,
  mailServer,
  openChanges,
  outbox,
  people,
  positions,
  timeOff,
} from '../database/tables/index.ts'

/** What the engine asks of its own tables. */

/** As many entries of the journal, or alarms of a rule, as are read at once. */
export const PORTION = 500

export const firmRow = ready((orm) => orm.select().from(firm).where(eq(firm.id, 1)))
/** The mail server that the firm named, if it did. */
export const mailRow = ready((orm) => orm.select().from(mailServer).where(eq(mailServer.id, 1)))
export const allHolidays = ready((orm) =>
  orm.select({ date: holidays.date, name: holidays.name, half: holidays.half }).from(holidays),
)
export const hoursOf = ready((orm, a: { id: PersonId }) =>
  orm.select({ hours: people.hours }).from(people).where(eq(people.id, a.id)),
)
/** All time off of a person. */
export const timeOffOf = ready((orm, a: { id: PersonId }) =>
  orm
    .select({
      ...{ firstDay: timeOff.firstDay, lastDay: timeOff.lastDay, reason: timeOff.reason },
      ...{ half: timeOff.half, minutes: timeOff.minutes },
    })
    .from(timeOff)
    .where(eq(timeOff.personId, a.id)),
)

/** The alarm that has been due longest. */
export const dueAlarm = ready((orm, a: { now: number }) =>
  orm
    .select()
    .from(alarms)
    .where(lte(alarms.at, a.now))
    .orderBy(asc(alarms.at), asc(alarms.id))
    .limit(most(1)),
)
/** Alarms of a kind that are due. */
export const dueOfKind = ready((orm, a: { kind: AlarmKind; now: number }) =>
  orm
    .select({ key: alarms.key })
    .from(alarms)
    .where(and(lte(alarms.at, a.now), eq(alarms.kind, a.kind))),
)
export type AlarmRow = typeof alarms.$inferSelect
export const nextAlarm = ready((orm) => orm.select({ at: min(alarms.at) }).from(alarms))
export const alarmById = ready((orm, a: { id: number }) =>
  orm.select().from(alarms).where(eq(alarms.id, a.id)),
)
export const alarmByKey = ready((orm, a: { key: string }) =>
  orm.select().from(alarms).where(eq(alarms.key, a.key)),
)
/** Alarms over an item of some kinds, as a JSON list. */
export const alarmsOfItem = ready((orm, a: { kind: ItemKind; id: number; of: string }) =>
  orm
    .select({ id: alarms.id })
    .from(alarms)
    .where(
      and(
        ...[eq(alarms.itemKind, a.kind), eq(alarms.itemId, a.id)],
        inArray(alarms.kind, listed(a.of)),
      ),
    ),
)
/** Some of the alarms that a rule put up, but those of some kinds, as a JSON list. */
export const alarmsOfRule = ready((orm, a: { id: number; but: string }) =>
  orm
    .select({ id: alarms.id })
    .from(alarms)
    .where(and(eq(alarms.ruleId, a.id), notInArray(alarms.kind, listed(a.but))))
    .limit(most(PORTION)),
)

export const positionOf = ready((orm, a: { name: string }) =>
  orm.select().from(positions).where(eq(positions.name, a.name)),
)
/** What an entry says, as it is read in portions. */
const said = {
  id: journal.id,
  change: journal.change,
  at: journal.at,
  actorKind: journal.actorKind,
  actorId: journal.actorId,
  causeId: journal.causeId,
  depth: journal.depth,
  undoes: journal.undoes,
  entity: journal.entity,
  entityId: journal.entityId,
  action: journal.action,
  itemKind: journal.itemKind,
  itemId: journal.itemId,
  projectId: journal.projectId,
  before: journal.before,
  after: journal.after,
}
/** Journal entries after a position, at most a portion of them. */
export const entriesAfter = ready((orm, a: { after: number }) =>
  orm
    .select(said)
    .from(journal)
    .where(gt(journal.id, a.after))
    .orderBy(asc(journal.id))
    .limit(most(PORTION)),
)
/** The same backwards: those between two, the newest first. */
export const entriesBetween = ready((orm, a: { after: number; before: number }) =>
  orm
    .select(said)
    .from(journal)
    .where(and(gt(journal.id, a.after), lt(journal.id, a.before)))
    .orderBy(desc(journal.id))
    .limit(most(PORTION)),
)
/** The newest entry before a moment. */
export const entryBefore = ready((orm, a: { at: number }) =>
  orm
    .select({ id: journal.id })
    .from(journal)
    .where(lt(journal.at, a.at))
    .orderBy(desc(journal.at), desc(journal.id))
    .limit(most(1)),
)
export const newestEntry = ready((orm) => orm.select({ id: max(journal.id) }).from(journal))
/** The tables whose rows changed after an entry. */
export const changedSince = ready((orm, a: { after: number }) =>
  orm.selectDistinct({ entity: journal.entity }).from(journal).where(gt(journal.id, a.after)),
)
export type EntryRow = Row<typeof entriesAfter>

/** Changes that stand open. */
export const openOnes = ready((orm) =>
  orm.select({ id: openChanges.id }).from(openChanges).where(isNull(openChanges.last)),
)
/** Changes that were made in portions and closed, with their newest entry. */
export const closedOnes = ready((orm) =>
  orm
    .select({ id: openChanges.id, last: openChanges.last })
    .from(openChanges)
    .where(isNotNull(openChanges.last)),
)
/** Those of them that every listener has heard. */
export const heardOnes = ready((orm) => {
  const heard = orm.select({ least: min(positions.journalId) }).from(positions)
  return orm.select({ id: openChanges.id }).from(openChanges).where(lte(openChanges.last, heard))
})
/** The newest entries of a change, so many at most. */
export const newestOf = ready((orm, a: { change: ChangeId }) =>
  orm
    .select()
    .from(journal)
    .where(eq(journal.change, a.change))
    .orderBy(desc(journal.id))
    .limit(most(200)),
)

/** Mail that waits and is due, oldest first. */
export const waitingMail = ready((orm, a: { now: number }) =>
  orm
    .select()
    .from(outbox)
    .where(and(eq(outbox.state, 'waiting'), lte(outbox.nextAt, a.now)))
    .orderBy(asc(outbox.id))
    .limit(most(50)),
)
/** Mail that could not be sent, or not yet. */
export const troubledMail = ready((orm) =>
  orm
    .select({ count: count() })
    .from(outbox)
    .where(
      or(eq(outbox.state, 'failed'), and(eq(outbox.state, 'waiting'), gte(outbox.attempts, 1))),
    ),
)
