import { describe, expect, it } from 'vitest'
import { reachOf } from '#core/templates/reach.ts'
import type { SeriesBody } from '#contract/series.ts'
import { BOOKS, lab, type Lab } from '../../test/lab.ts'
import { makeTemplate } from '../templates/service.ts'
import { makeSeries, saveSeries } from './service.ts'
import { nextDates } from './sheet.ts'

const LATE =
  "select 1 from tasks where due < '2026-11-23' or due = '2026-11-23' and dueTime < '08:00'"
/** A series of projects whose next date is nearer than its template reaches. */
function monthly(l: Lab, more: Partial<SeriesBody> = {}): SeriesBody {
  const templateId = makeTemplate(l.engine, l.imogen, BOOKS).result.id
  return {
    name: 'Books',
    leadDays: 3,
    schedule: { start: '2026-11-25', rule: { workday: 18, of: 'month' } },
    makes: {
      ...{ kind: 'project', templateId, clientId: l.client, leadId: l.imogen.id, roles: {} },
      name: '{client}, books for {period: MMMM yyyy}',
      period: { of: 'month', which: 'before' },
    },
    ...more,
  }
}
const projects = (l: Lab) => l.rows('select name from projects where seriesId is not null').length

describe('a series is not born late unseen', () => {
  it('a template tells how far it reaches before its anchor: made a day before, nothing is late', () => {
    expect(reachOf(BOOKS)).toBe(5)
    const l = lab()
    const schedule = { start: '2026-11-25', rule: 'FREQ=WEEKLY' }
    makeSeries(
      l.engine,
      l.imogen,
      monthly(l, { leadDays: reachOf(BOOKS) + 1, schedule, begin: 'next' }),
    )
    l.until('2027-01-29T12:00')
    expect(projects(l)).toBeGreaterThan(8)
    expect(l.rows("select 1 from tasks where due < date(createdAt / 1000, 'unixepoch')")).toEqual(
      [],
    )
  })
  it('what would be made at once, and late, is said beforehand', () => {
    const l = lab()
    const { schedule, leadDays, makes } = monthly(l)
    const [first, second] = nextDates(l.engine, l.imogen, { schedule, leadDays, makes })
    // 25 November is two working days away; its first task was due five before.
    expect(first).toMatchObject({ date: '2026-11-25', now: true, late: 1 })
    expect(second).toMatchObject({ now: false, late: 0 })
  })
  it('saved as it is, it makes that; begun with the next date, it does not', () => {
    const l = lab()
    makeSeries(l.engine, l.imogen, monthly(l))
    l.runner.tick()
    expect([projects(l), l.rows(LATE).length]).toEqual([1, 1])
    const other = lab()
    const { id } = makeSeries(other.engine, other.imogen, monthly(other, { begin: 'next' })).result
    other.runner.tick()
    expect(projects(other)).toBe(0)
    // Saved again, it goes on from where it stands.
    const body = monthly(other, { leadDays: 4, begin: 'next' })
    saveSeries(other.engine, other.imogen, id, { body, seen: null })
    other.until('2026-12-31T12:00')
    expect(projects(other)).toBe(1)
  })
})
