import { and, eq, gte, isNull, lte, max } from 'drizzle-orm'
import type { IsoDate, PersonId } from '#core/brands.ts'
import { actingFor } from '#core/people/stand-in.ts'
import { ready, type Reader } from '../../database/query.ts'
import { people, timeOff } from '../../database/tables/index.ts'

/** Who is away, and who acts for them meanwhile. */

const standingOf = ready((orm, a: { id: PersonId }) =>
  orm
    .select({ active: people.active, standInId: people.standInId })
    .from(people)
    .where(eq(people.id, a.id)),
)
/** Time off that takes the whole of a day. */
const wholeDays = (day: IsoDate) =>
  and(
    ...[gte(timeOff.lastDay, day), lte(timeOff.firstDay, day)],
    ...[eq(timeOff.half, false), isNull(timeOff.minutes)],
  )
const wholeDayOff = ready((orm, a: { id: PersonId; day: IsoDate }) =>
  orm
    .select({ id: timeOff.id })
    .from(timeOff)
    .where(and(eq(timeOff.personId, a.id), wholeDays(a.day))),
)
/** Whether somebody is away for the whole of a day. */
export const isAway = (reader: Reader, id: PersonId, day: IsoDate): boolean =>
  wholeDayOff.get(reader, { id, day }) !== undefined
/** Who is away for the whole of a day, and until when. */
export const awayOn = ready((orm, a: { day: IsoDate }) =>
  orm
    .select({ id: timeOff.personId, until: max(timeOff.lastDay).mapWith(String) })
    .from(timeOff)
    .where(wholeDays(a.day))
    .groupBy(timeOff.personId),
)
/** Who acts for somebody on a day: themselves, unless they are away for the whole of it. */
export const actingOn = (reader: Reader, id: PersonId, day: IsoDate): PersonId =>
  actingFor(id, (one) => {
    const found = standingOf.get(reader, { id: one })
    return found && { ...found, away: isAway(reader, one, day) }
  })
