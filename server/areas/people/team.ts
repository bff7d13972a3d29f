import { and, asc, eq, isNotNull, sql } from 'drizzle-orm'
import type { IsoDate, PersonId, TeamId } from '#core/brands.ts'
import { rollDate, workingMinutes } from '#core/calendar/calendar.ts'
import { addDays, toEpochDay, weekdayOf } from '#core/calendar/dates.ts'
import { spread, type Window } from '#core/load/spread.ts'
import { sayMinutes } from '#core/text/speak.ts'
import { within, type Reader } from '../../database/query.ts'
import {
  openAssignments,
  people,
  taskAssignees,
  tasks,
  teamMembers,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import type { Filling } from '#contract/clockwork.ts'
import { goesOn } from '../tasks/rest.ts'
import { isActive, personName } from './queries.ts'
import { isAway } from './who.ts'

/** Who of a team gets something: everybody, whoever has least to do, whoever's turn it is. */

const membersOf = within((orm, a: { team: TeamId }) =>
  orm
    .select({ id: people.id })
    .from(teamMembers)
    .innerJoin(people, and(eq(people.id, teamMembers.personId), eq(people.active, true)))
    .where(eq(teamMembers.teamId, a.team))
    .orderBy(asc(teamMembers.personId)),
)
/** The active members of a team, in a fixed order. */
export const teamOf = (reader: Reader, team: TeamId): PersonId[] =>
  membersOf.all(reader, { team }).map(({ id }) => id)

/** Minutes of a task that nobody has estimated, when work is weighed. */
const UNESTIMATED = 30
/** What somebody has to do, each with its part of the estimate. */
const workOf = within((orm, a: { person: PersonId }) =>
  orm
    .select({
      ...{ start: tasks.start, due: tasks.due },
      minutes: sql<number>`coalesce(${taskAssignees.estimate}, ${tasks.estimate},
        ${sql.raw(String(UNESTIMATED))})`,
    })
    .from(openAssignments)
    .innerJoin(tasks, eq(tasks.id, openAssignments.taskId))
    .innerJoin(
      taskAssignees,
      and(eq(taskAssignees.taskId, tasks.id), eq(taskAssignees.personId, openAssignments.personId)),
    )
    .where(
      and(
        eq(openAssignments.personId, a.person),
        isNotNull(tasks.due),
        goesOn(sql`${tasks.projectId}`),
      ),
    ),
)

/** The week of a day, Monday to Sunday, as far as it is not past. */
function weekOf(day: IsoDate, today: IsoDate): Window {
  const monday = addDays(day, 1 - weekdayOf(toEpochDay(day)))
  return { first: monday < today && today <= day ? today : monday, last: addDays(monday, 6) }
}

/** How full somebody's week is, in minutes: what they have to do, and how long they work. */
interface Full {
  readonly id: PersonId
  readonly booked: number
  readonly capacity: number
}
/** What is booked of somebody's week. */
function fullness({ reader, firm }: Engine, id: PersonId, week: Window): Full {
  const own = firm.calendarOf(id)
  const work = workOf
    .all(reader, { person: id })
    .flatMap(({ due, ...one }) => (due === null ? [] : [{ ...one, due }]))
  const days = spread(work, own, firm.today(), week)
  let [booked, capacity] = [0, 0]
  for (let day = week.first; day <= week.last; day = addDays(day, 1)) {
    booked += days.get(day) ?? 0
    capacity += workingMinutes(own, day)
  }
  return { id, booked: Math.round(booked), capacity }
}
/** The share of a week that is booked; one without working hours is full. */
const share = ({ booked, capacity }: Full): number =>
  capacity === 0 ? Number.MAX_VALUE : booked / capacity

/** Somebody who was chosen, and why. */
export interface Chosen {
  readonly id: PersonId
  readonly why: string
}
interface Here {
  readonly here: readonly PersonId[]
  readonly away: string
}
/** Who of some is there on a day; everybody, where nobody is. */
function present({ reader }: Engine, all: readonly PersonId[], day: IsoDate): Here {
  const away = all.filter((id) => isAway(reader, id, day))
  const names = away.map((id) => `${personName(reader, id)} is away`).join('; ')
  return away.length === all.length
    ? { here: all, away: '' }
    : { here: all.filter((id) => !away.includes(id)), away: names }
}
const because = (...parts: readonly string[]): string => parts.filter(Boolean).join('; ')

/**
 * Whoever of some has the smallest share of the week of a day booked; null where there is nobody. Who
 * is away for the whole of the day is passed over.
 */
export function leastLoaded(engine: Engine, of: readonly PersonId[], day: IsoDate): Chosen | null {
  const { here, away } = present(engine, of, day)
  // Over a weekend, it is the week that comes.
  const worked = rollDate(engine.firm.calendar(), day, 'following')
  const week = weekOf(worked, engine.firm.today())
  const [least, ...others] = here
    .map((id) => fullness(engine, id, week))
    .sort((a, b) => share(a) - share(b) || a.booked - b.booked || a.id - b.id)
  if (!least) return null
  const said = ({ id, booked, capacity }: Full) =>
    `${personName(engine.reader, id)}: ${sayMinutes(booked)} of ${sayMinutes(capacity)} that week`
  return { id: least.id, why: because(said(least), ...others.slice(0, 2).map(said), away) }
}

/** Whoever of some, in their order, comes after somebody; who is away for the whole day is passed over. */
export function nextInTurn(
  engine: Engine,
  of: readonly PersonId[],
  day: IsoDate,
  last: PersonId | null,
): Chosen | null {
  const { here, away } = present(engine, of, day)
  const after = last === null ? -1 : of.indexOf(last)
  const id = [...of.slice(after + 1), ...of].find((one) => here.includes(one))
  if (id === undefined) return null
  const name = (one: PersonId) => personName(engine.reader, one)
  const which = last === null ? 'the first of them' : `after ${name(last)}`
  return { id, why: because(`${name(id)} is next in turn, ${which}`, away) }
}

/** The person a filling stands for, or null when there is nobody active behind it. */
export function fill(engine: Engine, filling: Filling | undefined): PersonId | null {
  if (!filling) return null
  if ('team' in filling) {
    const team = teamOf(engine.reader, filling.team)
    return leastLoaded(engine, team, engine.firm.today())?.id ?? null
  }
  return isActive(engine.reader, filling.person) ? filling.person : null
}
