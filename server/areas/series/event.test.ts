import { describe, expect, it } from 'vitest'
import type { RuleBody } from '#contract/rules.ts'
import type { SeriesWays } from '#contract/series.ts'
import { drained } from '../../engine/portions.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { listRuns } from '../rules/log.ts'
import { makeRule, ruleSheet, switchRule } from '../rules/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { audit } from './audit.ts'
import { round } from './round.ts'
import { archiveSeries, makeSeries, saveSeries, switchSeries } from './service.ts'
import { listSeries, seriesSheet } from './sheet.ts'

/**
 * After an event (engine.md, “Recurrence”): made by a rule, known by what brought it. It is Monday
 * 23 November 2026; dates are counted by hand.
 */

const schedule = {
  ...{ kind: 'after-event', start: '2026-11-23', roll: 'following' },
  wait: { after: 5, unit: 'working' },
} as const
const calls = (more: object = {}, ways: SeriesWays = {}) =>
  ({
    ...{ name: 'Calls', leadDays: 0, ways, schedule: { ...schedule, ...more } },
    makes: {
      ...{ kind: 'task', title: 'Call {client}, {date: d MMM}', description: '', projectId: null },
      ...{ clientId: null, assignees: [], estimate: null, checklist: [] },
      period: { of: 'month', which: 'same' },
    },
  }) as never
const doneIds = (l: Lab) =>
  l.rows<{ id: number }>(`select id from states where kind = 'done'`).map(({ id }) => id)
const bring = (l: Lab, series: number): RuleBody => ({
  ...{ name: 'R', ownerId: 1 },
  definition: {
    trigger: { kind: 'changed', field: 'state', from: [], to: doneIds(l) },
    conditions: { match: 'all', of: [] },
    actions: [{ kind: 'bring-next', series }],
  },
})
function begun(more?: object, ways?: SeriesWays) {
  const l = lab()
  const { id } = makeSeries(l.engine, l.imogen, calls(more, ways)).result
  const rule = makeRule(l.engine, l.imogen, bring(l, id)).result
  switchRule(l.engine, l.imogen, rule.id, { on: true })
  l.runner.tick()
  const close = (title: string) => {
    const { id: task } = makeTask(l.engine, l.imogen, { title, clientId: l.client }).result
    editTask(l.engine, l.imogen, task, { patch: { state: 'done' }, seen: null })
    l.runner.tick()
    return task
  }
  const why = () => listRuns(l.engine, l.imogen, { ruleId: rule.id })[0]!.reasons
  const sheet = () => seriesSheet(l.engine, l.imogen, id)
  return { l, id, rule, close, why, sheet }
}
const made = (l: Lab) =>
  l.rows<{ title: string; due: string }>('select title, due from tasks where seriesId is not null')
const sound = (l: Lab) => expect(drained(audit(l.engine)).wrong).toEqual([])

describe('a series that goes by events', () => {
  it('makes nothing by itself, and its next five working days after each event', () => {
    const { l, close, sheet } = begun()
    expect(sheet()).toMatchObject({ next: [], ended: false, rules: [{ name: 'R', on: true }] })
    l.until('2026-11-25T12:00')
    expect(made(l)).toEqual([])
    close('A')
    l.until('2026-11-26T12:00')
    close('B')
    expect(made(l)).toEqual([
      { title: 'Call Mossgate, 2 Dec', due: '2026-12-02' },
      { title: 'Call Mossgate, 3 Dec', due: '2026-12-03' },
    ])
    expect(listSeries(l.engine, l.imogen)[0]).toMatchObject({ next: null, byEvents: true })
    sound(l)
  })
  it('stands in the round with the client of its event', () => {
    const { l, close } = begun()
    close('A')
    const { rows } = round(l.engine, l.imogen, { from: '2026-11-01', to: '2026-12-31' })
    const said = rows.map(({ client, cells }) => [client?.name ?? null, cells[0]?.dates.length])
    expect(said).toEqual([
      ['Mossgate Veterinary Clinic', 1],
      [null, 0],
    ])
  })
  it('hands on nothing from one client to another', () => {
    const { l, close } = begun({}, { carries: ['description'] })
    close('A')
    const [first] = l.rows<{ id: number }>('select id from tasks where seriesId is not null')
    const patch = { description: '<p>Secret</p>' }
    editTask(l.engine, l.imogen, first!.id, { patch, seen: null })
    const other = l.engine.journal.change(ENGINE, (write) =>
      write.insert('clients', {
        name: 'Larkmoor',
        short: 'Larkmoor',
        createdAt: write.at,
      } as never),
    ).result
    for (const clientId of [other, l.client]) {
      const { id } = makeTask(l.engine, l.imogen, { title: 'X', clientId }).result
      editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
      l.runner.tick()
    }
    const all = l.rows<{ clientId: number; description: string }>(
      'select clientId, description from tasks where seriesId is not null order by id',
    )
    // The last one before was for the other client, so that nothing is handed on to the third.
    expect(all.map(({ description }) => description)).toEqual(['<p>Secret</p>', '', ''])
  })
  it('makes one for each of many events of one moment, each known by its own', () => {
    const { l } = begun()
    const ids = ['A', 'B', 'C'].map((title) => makeTask(l.engine, l.imogen, { title }).result.id)
    bulkEdit(l.engine, l.imogen, { ids, set: { state: 'done' } }).whole()
    l.runner.tick()
    l.runner.tick()
    expect(made(l)).toHaveLength(3)
    expect(l.rows('select distinct scheduled, event from occurrences')).toHaveLength(3)
    sound(l)
  })
  it('is not brought by what a rule made, so that nothing goes round and round', () => {
    const { l, close, why } = begun()
    close('A')
    const { id } = l.rows<{ id: number }>('select id from tasks where seriesId is not null')[0]!
    editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
    l.runner.tick()
    expect(made(l)).toHaveLength(1)
    expect(why()).toContain('Nothing of a series: this one was made by a rule already')
  })
  it('holds the next one while the one before is open, and makes it once that is closed', () => {
    const { l, close, why } = begun({}, { overlap: 'hold' })
    close('A')
    close('B')
    expect(why()).toContain('The next of “Calls” was held: the one before is still open')
    expect(made(l)).toHaveLength(1)
    const { id } = l.rows<{ id: number }>('select id from tasks where seriesId is not null')[0]!
    editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
    l.runner.tick()
    // What was held is for the client of its event as well.
    expect(made(l).map(({ title }) => title)).toEqual(Array(2).fill('Call Mossgate, 30 Nov'))
    sound(l)
  })
  it('skips what comes in a pause, and knows it; put away, it makes nothing', () => {
    const { l, id, close, why, sheet } = begun()
    switchSeries(l.engine, l.imogen, id, false)
    close('A')
    expect(why()).toContain('The next of “Calls” was skipped: it was paused')
    expect(sheet().made.map(({ went }) => went)).toEqual(['skipped'])
    switchSeries(l.engine, l.imogen, id, true)
    archiveSeries(l.engine, l.imogen, id, true)
    close('B')
    expect(why()).toContain('The series that it brings is gone')
    expect(made(l)).toEqual([])
  })
  it.each([
    [{ count: 1 }, 1],
    [{ until: '2026-12-01' }, 1],
    [{ start: '2026-11-25' }, 1],
  ])('begins and ends as it says: %j', (more, times) => {
    const { l, close, why } = begun(more)
    const isLater = 'start' in more
    close('A')
    l.until('2026-11-25T12:00')
    close('B')
    expect(made(l)).toHaveLength(times)
    if (!isLater) expect(why()).toContain('“Calls” has not begun, or is at its end')
  })
  it('is ended by the last of so many', () => {
    const { close, sheet } = begun({ count: 1 })
    close('A')
    expect(sheet().ended).toBe(true)
  })
  it('what was brought is taken back with the run that brought it, and not brought again', () => {
    const { l, rule, close, sheet } = begun()
    close('A')
    const { change } = listRuns(l.engine, l.imogen, { ruleId: rule.id })[0]!
    undoChange(l.engine, l.imogen, change!).whole()
    l.runner.tick()
    expect(made(l)).toEqual([])
    expect(sheet().made.map(({ went }) => went)).toEqual(['taken-back'])
    sound(l)
  })
  it('a rule warns while the series that it brings is paused, by dates now, or put away', () => {
    const { l, id, rule } = begun()
    const warned = () => ruleSheet(l.engine, l.imogen, rule.id).warnings
    expect(warned()).toEqual([])
    switchSeries(l.engine, l.imogen, id, false)
    expect(warned()).toEqual(['“Calls” is paused; what comes meanwhile is skipped.'])
    const dated = { ...(calls() as object), schedule: { start: '2026-11-25', rule: 'FREQ=DAILY' } }
    saveSeries(l.engine, l.imogen, id, { body: dated as never, seen: null })
    expect(warned()).toEqual(['“Calls” goes by dates now; it makes nothing of it.'])
    archiveSeries(l.engine, l.imogen, id, true)
    expect(warned()).toEqual(['The series that it makes the next of is archived or gone.'])
  })
  it('a rule is refused that would bring a series which goes by dates, or none', () => {
    const { l } = begun()
    const dated = makeSeries(l.engine, l.imogen, {
      ...(calls() as object),
      schedule: { start: '2026-11-25', rule: 'FREQ=DAILY' },
    } as never).result.id
    for (const series of [dated, 99])
      expect(() => makeRule(l.engine, l.imogen, bring(l, series))).toThrow(
        'Choose a series that comes when a rule says so',
      )
  })
})
