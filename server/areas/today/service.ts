import type { IsoDate, PersonId } from '#core/brands.ts'
import { holidayOn, workingMinutes } from '#core/calendar/calendar.ts'
import { addDays } from '#core/calendar/dates.ts'
import { dueGroup } from '#core/query/due-groups.ts'
import { spread } from '#core/load/spread.ts'
import { refuse } from '#core/refusal.ts'
import { plural } from '#core/text/speak.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { LooseEnd, RibbonDay, TodayGroup, TodaySheet, Waiting } from '#contract/desks.ts'
import { troubledMail } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { personById } from '../people/queries.ts'
import { pausedRules, skippedSince } from '../rules/queries.ts'
import { openWorkOf } from '../tasks/queries.ts'
import { taskRows } from '../tasks/rows.ts'
import { expectedEfforts } from './expected.ts'
import {
  doneSince,
  effortsOf,
  escalationsFor,
  ownerless,
  ownOwnerless,
  ownUndated,
  ownUnfilled,
  reviewsLed,
  reviewsMade,
  undated,
  unfilled,
} from './queries.ts'

const DAY = 86_400_000

/** As many reviews as wait in sight. */
const REVIEWS = 20

/** What is in review and waits on a person: in their projects, or made by them where nobody leads. */
function reviews({ reader }: Engine, viewer: Viewer) {
  const mine = { me: viewer.id, sight: sightOf(viewer) }
  return [...reviewsLed.all(reader, mine), ...reviewsMade.all(reader, mine)]
    .sort((a, b) => a.at - b.at)
    .slice(0, REVIEWS)
}

function waiting(engine: Engine, viewer: Viewer): Waiting[] {
  if (isGuest(viewer)) return []
  const { reader } = engine
  const mine = { me: viewer.id, sight: sightOf(viewer) }
  return [
    ...reviews(engine, viewer).map(({ task, at, who }): Waiting => ({
      kind: 'review',
      text: `${who ?? 'Someone'} finished “${task.title}” and asks you to check it.`,
      at,
      task,
      noticeId: null,
    })),
    ...escalationsFor
      .all(reader, mine)
      .map(({ body: text, ...rest }): Waiting => ({ kind: 'escalation', text, ...rest })),
  ]
}

/** Tasks that lack something, as one loose end; none where there are none. */
function lacking(
  kind: LooseEnd['kind'],
  what: string,
  tasks: readonly { id: number; title: string }[],
): LooseEnd[] {
  const count = tasks.length
  if (count === 0) return []
  const text = `${plural(count, 'task')} ${count === 1 ? 'has' : 'have'} ${what}`
  return [{ kind, text, count, tasks, link: null }]
}

const elsewhere = (
  kind: LooseEnd['kind'],
  text: string,
  count: number,
  link: string,
): LooseEnd => ({ kind, text, count, tasks: [], link })

/** What the clockwork could not do. */
function clockworkEnds({ reader, clock, firm }: Engine): LooseEnd[] {
  const since = firm.stoppedAt()
  const stopped =
    since === null
      ? []
      : [elsewhere('stopped', 'Everything automatic is stopped', 1, '/clockwork/rules')]
  const paused = pausedRules
    .all(reader)
    .map((r) =>
      elsewhere('rule-paused', `Rule “${r.name}” paused itself`, 1, `/clockwork/rules/${r.id}`),
    )
  const skipped = skippedSince
    .all(reader, { since: clock.now() - 7 * DAY })
    .map((r) =>
      elsewhere(
        'skipped',
        `Rule “${r.name}” skipped ${plural(r.tasks, 'task')} this week`,
        r.tasks,
        `/clockwork/log?rule=${r.id}&outcome=skipped`,
      ),
    )
  const mail = troubledMail.get(reader)?.count ?? 0
  const unsent = `${plural(mail, 'mail')} could not be sent yet`
  return [
    ...stopped,
    ...paused,
    ...skipped,
    ...(mail ? [elsewhere('mail-failed', unsent, mail, '/notices/mail')] : []),
  ]
}

/**
 * What lacks a date or an owner, and what the clockwork could not do; managers see the firm's,
 * members their own.
 */
function looseEnds(engine: Engine, viewer: Viewer): LooseEnd[] {
  if (isGuest(viewer)) return []
  const { reader } = engine
  const firm = mayStructure(viewer)
  const mine = { me: viewer.id, sight: sightOf(viewer) }
  const noDate = (firm ? undated : ownUndated).all(reader, mine)
  const noOwner = (firm ? ownerless : ownOwnerless).all(reader, mine)
  const open = (firm ? unfilled : ownUnfilled)
    .all(reader, mine)
    .map(({ role, id, name, tasks }) =>
      elsewhere(
        'unfilled',
        `${role} is unfilled in ${name}: ${plural(tasks, 'task')}`,
        tasks,
        `/work/${id}`,
      ),
    )
  return [
    ...lacking('no-date', 'no date', noDate),
    ...lacking('no-owner', 'no owner', noOwner),
    ...open,
    ...(firm ? clockworkEnds(engine) : []),
  ]
}

export function todaySheet(engine: Engine, viewer: Viewer): TodaySheet {
  const { firm, reader, clock } = engine
  const today = firm.today()
  const sight = sightOf(viewer)
  const groups: Record<TodayGroup, TaskRow[]> = {
    slipped: [],
    today: [],
    tomorrow: [],
    week: [],
    'next-week': [],
    later: [],
    'no-date': [],
  }
  const ids = openWorkOf.all(reader, { person: viewer.id, sight }).map((task) => task.id)
  for (const task of taskRows(engine, viewer, ids))
    groups[dueGroup(task.due, task.late, today)].push(task)
  const done = doneSince.get(reader, { me: viewer.id, since: clock.now() - DAY, sight })
  return {
    today,
    capacity: workingMinutes(firm.calendarOf(viewer.id), today),
    groups,
    doneToday: done?.tasks ?? 0,
    waiting: waiting(engine, viewer),
    loose: looseEnds(engine, viewer),
  }
}

export const RIBBON_DAYS = 15

/**
 * Days of a person, fifteen of one's own unless more or somebody else's are asked for: what is due,
 * how full each is, and what kind of day. Guests see their own alone.
 */
export function ribbon(
  engine: Engine,
  viewer: Viewer,
  from: IsoDate,
  { days = RIBBON_DAYS, person = viewer.id }: { days?: number; person?: PersonId } = {},
): RibbonDay[] {
  const { firm, reader } = engine
  if (person !== viewer.id) {
    needMember(viewer, 'see how full the days of others are')
    if (!personById.get(reader, { id: person }))
      refuse('not-found', `There is no person ${person}.`, 'person')
  }
  const today = firm.today()
  const own = firm.calendarOf(person)
  const last = addDays(from, days - 1)
  const open = effortsOf
    .all(reader, { me: person, sight: sightOf(viewer) })
    .flatMap(({ due, ...effort }) => (due === null ? [] : [{ ...effort, due }]))
  const window = { first: from, last }
  const booked = spread(open, own, today, window)
  const expected = isGuest(viewer)
    ? new Map<IsoDate, number>()
    : spread(expectedEfforts(engine, person, window), own, today, window)
  const due = new Map<string, number>()
  for (const { due: day } of open) due.set(day, (due.get(day) ?? 0) + 1)
  return Array.from({ length: days }, (_, i) => {
    const date = addDays(from, i)
    const capacity = workingMinutes(own, date)
    const count = due.get(date) ?? 0
    return {
      date,
      due: count,
      late: date < today ? count : 0,
      booked: Math.round(booked.get(date) ?? 0),
      expected: Math.round(expected.get(date) ?? 0),
      capacity,
      rest: holidayOn(own, date) ?? (capacity === 0 ? 'not a working day' : null),
    }
  })
}
