import { isByDates } from '#core/recurrence/course.ts'
import { localStamp, stamp, workDay, zoneName } from '#core/calendar/dates.ts'
import { parseRRule, type RRule } from '#core/recurrence/rrule.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type {
  AnyScheduleBody,
  Makes,
  ScheduleBody,
  SeriesBody,
  SeriesSchedule,
} from '#contract/series.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { needOwnContacts } from '../people/contacts.ts'
import { clientById, isActive, personName } from '../people/queries.ts'
import { homeOf } from '../tasks/queries.ts'
import { needTask } from '../tasks/service.ts'
import { templateById } from '../templates/queries.ts'
import { checkFillings, fillersOf } from '../templates/start.ts'

/** What a series is asked to be: what of it cannot be is refused. */

/** Rules this fine would make work by the minute; the arithmetic knows them, a series does not. */
const FINE: ReadonlySet<string> = new Set(['SECONDLY', 'MINUTELY', 'HOURLY'])
const FIRST_START = '2000-01-01'
/** As many times as a series may have in one day, and dates in all where it counts them. */
const MOST_A_DAY = 24
const MOST_COUNTED = 10_000
/** What the arithmetic knows and a series does not. @throws Refusal `bad-rule` */
function checkRule({ freq, count = 1, byHour = [0], byMinute = [0], bySecond = [0] }: RRule): void {
  const bad = (sentence: string) => refuse('bad-rule', sentence, 'schedule.rule')
  if (FINE.has(freq))
    bad('A series repeats daily at the most; choose DAILY, WEEKLY, MONTHLY or YEARLY.')
  if (byHour.length * byMinute.length * bySecond.length > MOST_A_DAY)
    bad(`A series has ${MOST_A_DAY} times a day at the most; name fewer hours or minutes.`)
  if (count > MOST_COUNTED)
    bad(
      `A series counts ${MOST_COUNTED.toLocaleString('en-GB')} dates at the most; end it on a day.`,
    )
}

/** Of what a schedule leaves out or adds, each is a date. @throws Refusal `bad-date` */
function checkDates({ exclude = [], include = [] }: ScheduleBody): void {
  for (const [i, text] of exclude.entries()) localStamp(text, `schedule.exclude[${i}]`)
  for (const [i, text] of include.entries()) localStamp(text, `schedule.include[${i}]`)
}

/** A schedule as it is kept. @throws Refusal where it cannot be read, or is too early or too fine */
export function checkedSchedule({ firm }: Engine, body: AnyScheduleBody): SeriesSchedule {
  const { date, time } = localStamp(body.start, 'schedule.start')
  if (date < FIRST_START)
    refuse(
      'start-too-early',
      `A series starts in ${FIRST_START.slice(0, 4)} or later; ${date.slice(0, 4)} would be a slip of the keyboard.`,
      'schedule.start',
    )
  workDay(date, 'schedule.start')
  const zone = zoneName(body.zone ?? firm.zone(), 'schedule.zone')
  const start = stamp(date, time)
  if (!isByDates(body)) {
    if (body.until !== undefined && body.until < date)
      refuse(
        'ends-before-start',
        `It would end on ${sayDate(body.until)}, before it starts on ${sayDate(date)}.`,
        'schedule.until',
      )
    return { ...body, start, zone }
  }
  if (typeof body.rule === 'string') checkRule(parseRRule(body.rule))
  checkDates(body)
  return { ...body, start, zone }
}

/** What a series makes points at must be there. @throws Refusal that names the place */
export function checkMakes(engine: Engine, viewer: Viewer | null, makes: Makes): void {
  const { reader } = engine
  if (makes.kind === 'project') {
    checkFillings(engine, makes.roles)
    if (!templateById.get(reader, { id: makes.templateId }))
      refuse('no-such-template', `There is no template ${makes.templateId}.`, 'makes.templateId')
  } else
    for (const id of makes.assignees)
      if (!isActive(reader, id))
        refuse(
          'person-left',
          `${personName(reader, id) ?? 'That person'} has left; choose someone who is here.`,
          'makes.assignees',
        )
  if (viewer && makes.kind === 'task' && makes.like !== undefined)
    needTask(engine, viewer, makes.like)
  if (makes.clientId !== null && !clientById.get(reader, { id: makes.clientId }))
    refuse('no-such-client', `There is no client ${makes.clientId}.`, 'makes.clientId')
}

/** @throws Refusal `other-client` */
export function checkContacts(engine: Engine, viewer: Viewer, { makes }: SeriesBody): void {
  const project = makes.kind === 'task' ? makes.projectId : null
  const home = project === null ? undefined : homeOf.get(engine.reader, { id: project })
  needOwnContacts(engine, viewer, {
    ids: makes.kind === 'project' ? fillersOf(makes.roles) : makes.assignees,
    client: makes.clientId ?? home?.clientId ?? null,
    place: makes.kind === 'project' ? 'makes.roles' : 'makes.assignees',
  })
}
