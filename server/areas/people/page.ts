import { and, desc, eq, gte } from 'drizzle-orm'
import type { IsoDate, PersonId } from '#core/brands.ts'
import { addDays, isoDate, toEpochDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { LONGEST_OFF, type NewTimeOff, type PersonPage } from '#contract/people.ts'
import { ready } from '../../database/query.ts'
import { timeOff } from '../../database/tables/index.ts'
import type { Changed } from '../../engine/journal.ts'
import { firmRow, hoursOf } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { whoNames } from './chains.ts'
import { needPerson } from './service.ts'
import { tokensOf } from './tokens.ts'

/** A person’s page: their hours and days off, whom they answer to, who stands in for them. */

/** As many stretches of time off as somebody has to come, and in the last year. */
const MOST_OFF = 400
/** Time off that is over is shown for so many days. */
const A_YEAR = 365

const daysOff = ready((orm, a: { person: PersonId; since: IsoDate }) =>
  orm
    .select({
      ...{ id: timeOff.id, firstDay: timeOff.firstDay, lastDay: timeOff.lastDay },
      ...{ half: timeOff.half, minutes: timeOff.minutes, reason: timeOff.reason },
    })
    .from(timeOff)
    .where(and(eq(timeOff.personId, a.person), gte(timeOff.lastDay, a.since)))
    .orderBy(desc(timeOff.firstDay)),
)
const offById = ready((orm, a: { id: number }) =>
  orm.select({ personId: timeOff.personId }).from(timeOff).where(eq(timeOff.id, a.id)),
)
/** Time off to come, and of the last year. */
const lately = ({ reader, firm }: Engine, person: PersonId) =>
  daysOff.all(reader, { person, since: addDays(firm.today(), -A_YEAR) })

/** @throws Refusal `forbidden` for anybody but managers and the person themselves */
function needOwnPage(viewer: Viewer, id: PersonId): void {
  if (viewer.id !== id && !mayStructure(viewer))
    refuse('forbidden', 'This is for managers, and for whoever it is about.')
}

/** @throws Refusal `not-found`, `forbidden` */
export function personPage(engine: Engine, viewer: Viewer, id: PersonId): PersonPage {
  needOwnPage(viewer, id)
  const { reader } = engine
  return {
    ...needPerson(engine, id),
    hours: hoursOf.get(reader, { id })?.hours ?? null,
    usual: firmRow.get(reader)?.hours ?? {},
    timeOff: lately(engine, id),
    answering: whoNames(reader, 'managerId', id),
    standsInFor: whoNames(reader, 'standInId', id),
    tokens: tokensOf(engine, id),
  }
}

/** What is entered, as it is kept. @throws Refusal `bad-date`, `ends-before`, `too-long`, `half-and-hours` */
function offOf({ half = false, minutes = null, reason = '', ...days }: NewTimeOff) {
  const [firstDay, lastDay] = [isoDate(days.firstDay, 'firstDay'), isoDate(days.lastDay, 'lastDay')]
  const count = toEpochDay(lastDay) - toEpochDay(firstDay) + 1
  if (count < 1) refuse('ends-before', 'It ends before it begins.', 'lastDay')
  if (count > LONGEST_OFF) refuse('too-long', 'Two years are the most at once.', 'lastDay')
  if (half && minutes) refuse('half-and-hours', 'Say half of each day or hours of it.', 'minutes')
  return { firstDay, lastDay, half, minutes, reason }
}

/**
 * Enters time off: from then on it counts in what they can do, and whoever stands in for them acts.
 * @throws Refusal `not-found`, `forbidden`, and what is wrong with the days
 */
export function addTimeOff(
  engine: Engine,
  viewer: Viewer,
  id: PersonId,
  body: NewTimeOff,
): Changed<PersonPage> {
  needOwnPage(viewer, id)
  needPerson(engine, id)
  const off = offOf(body)
  if (lately(engine, id).length >= MOST_OFF)
    refuse('too-many-off', `${MOST_OFF} stretches are the most; put those side by side into one.`)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('timeOff', { personId: id, ...off }),
  )
  return { result: personPage(engine, viewer, id), change }
}

/** @throws Refusal `not-found`, `forbidden` */
export function removeTimeOff(
  engine: Engine,
  viewer: Viewer,
  id: PersonId,
  off: number,
): Changed<PersonPage> {
  needOwnPage(viewer, id)
  if (offById.get(engine.reader, { id: off })?.personId !== id)
    refuse('not-found', 'That time off is gone already.')
  const { change } = engine.journal.change(actorOf(viewer), (write) => write.remove('timeOff', off))
  return { result: personPage(engine, viewer, id), change }
}
