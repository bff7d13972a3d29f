import { readFileSync, writeFileSync } from 'node:fs'
import ICAL from 'ical.js'
import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { setAudience } from '../access/service.ts'
import { makeProject } from '../projects/service.ts'
import { makeSeries } from '../series/service.ts'
import { makeTask } from '../tasks/service.ts'
import { feedCalendar } from './calendar.ts'
import { endFeed, feedBehind, listFeeds, makeFeed } from './service.ts'

const secretOf = (path: string) => path.slice('/feeds/'.length, -'.ics'.length)
const eventsIn = (text: string) =>
  new ICAL.Component(ICAL.parse(text))
    .getAllSubcomponents('vevent')
    .map((one) => new ICAL.Event(one))
    .map(({ uid, summary, startDate }) => ({ uid, summary, start: startDate.toString() }))
    .sort((a, b) => (a.uid < b.uid ? -1 : 1))

function withWork(): Lab {
  const l = lab()
  const task = (title: string, more: object) => makeTask(l.engine, l.imogen, { title, ...more })
  task('Büro; Miete, “lang”\nzweite Zeile', { due: '2026-12-01', assignees: [l.tobias.id] })
  task('Call', { due: '2026-11-24', dueTime: '15:30', estimate: 45, assignees: [l.tobias.id] })
  task('Not mine', { due: '2026-11-25' })
  makeSeries(l.engine, l.imogen, {
    ...{ name: 'Post', leadDays: 0, ways: {} },
    schedule: { start: '2026-11-27T09:00', rule: 'FREQ=MONTHLY;BYMONTHDAY=27;COUNT=3' },
    makes: {
      ...{ kind: 'task', title: 'Post {period: MMMM}', description: '', clientId: l.client },
      ...{ projectId: null, assignees: [l.tobias.id], estimate: 30, checklist: [] },
      period: { of: 'month', which: 'same' },
    },
  } as never)
  return l
}
const own = (l: Lab) => makeFeed(l.engine, l.tobias, { of: 'person' }).result

describe('a calendar to subscribe to', () => {
  it('holds one’s open work with a date, and what series will make; read by ical.js', () => {
    const l = withWork()
    const text = feedCalendar(l.engine, l.tobias, own(l).id).toString('utf8')
    expect(eventsIn(text)).toEqual([
      {
        uid: 'expected-1-20261127T0900@fernwick',
        summary: 'Expected: Post November (Mossgate)',
        start: '2026-11-27T09:00:00Z',
      },
      {
        uid: 'expected-1-20261227T0900@fernwick',
        summary: 'Expected: Post December (Mossgate)',
        start: '2026-12-27T09:00:00Z',
      },
      {
        uid: 'expected-1-20270127T0900@fernwick',
        summary: 'Expected: Post January (Mossgate)',
        start: '2027-01-27T09:00:00Z',
      },
      {
        uid: 'task-1@fernwick',
        summary: 'Büro; Miete, “lang”\nzweite Zeile',
        start: '2026-12-01',
      },
      { uid: 'task-2@fernwick', summary: 'Call', start: '2026-11-24T15:30:00Z' },
    ])
  })
  // The same calendar as python3-icalendar reads it: core/fixtures/feed.py wrote feed.json of it.
  it('python3-icalendar reads the same of it', () => {
    const l = withWork()
    const text = feedCalendar(l.engine, l.tobias, own(l).id).toString('utf8')
    const ics = new URL('../../../core/fixtures/feed.ics', import.meta.url)
    if (process.env['KEEP_FIXTURES']) writeFileSync(ics, text)
    expect(text).toBe(readFileSync(ics, 'utf8'))
    const read = JSON.parse(readFileSync(new URL('./feed.json', ics), 'utf8')) as unknown
    expect(eventsIn(text)).toEqual(read)
  })
  it('an address that was guessed, reset or ended opens nothing, nor that of who left', () => {
    const l = withWork()
    const first = secretOf(own(l).path)
    expect(feedBehind(l.engine, first)?.viewer.id).toBe(l.tobias.id)
    expect(feedBehind(l.engine, `${first.slice(0, -1)}x`)).toBeNull()
    const second = own(l)
    expect(listFeeds(l.engine, l.tobias)).toHaveLength(1)
    expect(feedBehind(l.engine, first)).toBeNull()
    expect(feedBehind(l.engine, secretOf(second.path))?.id).toBe(second.id)
    endFeed(l.engine, l.tobias, second.id)
    expect(feedBehind(l.engine, secretOf(second.path))).toBeNull()
    const third = secretOf(own(l).path)
    l.engine.journal.change({ kind: 'engine', id: null }, (write) =>
      write.update('people', l.tobias.id, { active: false }),
    )
    expect(feedBehind(l.engine, third)).toBeNull()
    expect(l.rows('select digest from feeds').some((row) => row['digest'] === third)).toBe(false)
  })
  it('nobody opens or ends another’s, and it holds nothing that its owner does not see', () => {
    const l = withWork()
    const { id } = own(l)
    expect(() => feedCalendar(l.engine, l.devika, id)).toThrow(/no feed/)
    expect(() => endFeed(l.engine, l.imogen, id)).toThrow(/no feed/)
    const project = makeProject(l.engine, l.imogen, { name: 'Apart', clientId: null } as never)
      .result.id
    makeTask(l.engine, l.imogen, { title: 'Secret', due: '2026-12-01', projectId: project })
    const feed = makeFeed(l.engine, l.devika, { of: 'project', item: project }).result
    const seen = () => feedCalendar(l.engine, l.devika, feed.id).toString('utf8')
    expect(seen()).toContain('Secret')
    setAudience(l.engine, l.imogen, project, { audience: 'named', teamId: null })
    expect(seen).toThrow(/no project/)
    expect(listFeeds(l.engine, l.devika)[0]?.name).toBe('what is not seen any more')
    expect(() => makeFeed(l.engine, l.devika, { of: 'project', item: project })).toThrow()
  })
  it('guests subscribe to no client, and are told nothing of series', () => {
    const l = withWork()
    expect(() => makeFeed(l.engine, l.corrie, { of: 'client', item: l.client })).toThrow(/Guests/)
    const { id } = makeFeed(l.engine, l.corrie, { of: 'person' }).result
    expect(eventsIn(feedCalendar(l.engine, l.corrie, id).toString('utf8'))).toEqual([])
  })
})
