import { addDays, isoDate, localTime, toInstant } from '#core/calendar/dates.ts'
import { icalendar, type CalendarEntry } from '#core/formats/icalendar.ts'
import type { ExpectedWork } from '#contract/series.ts'
import type { Scope, TaskQuery } from '#contract/query.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { calendarEntries } from '../exports/calendar.ts'
import { expectedWork } from '../series/expected.ts'
import { nameOfFeed, needFeed } from './service.ts'

/** What a calendar that is subscribed to shows: open work with a date, and what is expected. */

/** So far ahead what is expected is shown, in calendar days. */
const AHEAD = 366
const UNESTIMATED = 30

function expectedEntry({ firm, clock }: Engine, work: ExpectedWork, uid: string): CalendarEntry {
  const { title, start, due, dueTime, minutes, client } = work
  const named = client && !title.includes(client.name) ? `${title} (${client.name})` : title
  return {
    uid,
    summary: `Expected: ${named}`,
    description: 'Its series has not made it yet.',
    categories: ['Expected'],
    when:
      dueTime === null
        ? { first: start ?? due, last: due }
        : {
            at: toInstant(isoDate(due), localTime(dueTime), firm.zone()),
            minutes: minutes ?? UNESTIMATED,
          },
    stamp: clock.now(),
  }
}

/** What each is known by, whoever asks and when: of a project, its tasks one after the other. */
function* known(expected: readonly ExpectedWork[]): Generator<[ExpectedWork, string]> {
  const times = new Map<string, number>()
  for (const work of expected) {
    const key = `expected-${work.series}-${work.scheduled.replace(/\W/g, '')}`
    const nth = (times.get(key) ?? 0) + 1
    times.set(key, nth)
    yield [work, `${key}${nth > 1 ? `-${nth}` : ''}@fernwick`]
  }
}

/** One of one's own feeds as an iCalendar file (RFC 5545): what one sees at this moment. */
export function feedCalendar(engine: Engine, viewer: Viewer, id: number): Buffer {
  const { of, itemId } = needFeed(engine, viewer, id)
  const name = nameOfFeed(engine, viewer, { of, itemId })
  const scope: Scope = { of, id: of === 'person' ? viewer.id : itemId }
  const query: TaskQuery = {
    ...{ scope, sort: [{ field: 'due', down: false }], group: null, tree: false },
    ...{ sums: [], every: false },
    filter: { match: 'all', of: [{ field: 'open', op: 'is', value: true }] },
  }
  const today = engine.firm.today()
  const expected = expectedWork(engine, viewer, {
    ...{ from: today, to: addDays(today, AHEAD), of, id: scope.id },
  })
  const entries = [
    ...calendarEntries(engine, viewer, query),
    ...[...known(expected)].map(([work, uid]) => expectedEntry(engine, work, uid)),
  ]
  return Buffer.from(icalendar(`Fernwick: ${name}`, entries), 'utf8')
}
