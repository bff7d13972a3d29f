import { expect, it } from 'vitest'
import { isoDate } from '#core/calendar/dates.ts'
import { addFile, removeAttachment } from '../areas/attachments/service.ts'
import { retention, setRetention } from '../areas/firm/service.ts'
import { listChanges } from '../areas/journal/changes.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { makeRule, switchRule } from '../areas/rules/service.ts'
import { editTask, makeTask, taskSheet } from '../areas/tasks/service.ts'
import { ENGINE, lab, type Lab } from '../test/lab.ts'
import { sweep } from './sweep.ts'

const GOOD = { journal: null, runs: null, notices: null, mail: null }
const DAY = 86_400_000
const later = (l: Lab, days: number) => l.clock.set(l.clock.now() + days * DAY)
const edit = (l: Lab, id: number, patch: { title?: string; due?: string }) =>
  editTask(l.engine, l.imogen, id, { patch, seen: null }).change!
/** Sweeps all there is; answers in how many portions. */
const sweepAll = (l: Lab): number => [...sweep(l.engine)].length

it('keeps everything for good until a manager says otherwise', () => {
  const l = lab()
  makeTask(l.engine, l.imogen, { title: 'Post takings' })
  later(l, 4000)
  const before = l.rows('select id from journal')
  sweepAll(l)
  expect(l.rows('select id from journal')).toEqual(before)
  expect(retention(l.engine, l.imogen)).toEqual(GOOD)
  expect(() => setRetention(l.engine, l.tobias, { ...GOOD, runs: 30 })).toThrow(/manager/i)
})

it('sweeps the journal in portions; what is newer can still be taken back, what is older says why not', () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, journal: 90 })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result
  const old = edit(l, id, { title: 'Post the takings' })
  for (let i = 0; i < 600; i++) edit(l, id, { title: `Takings ${i}` })
  const last = edit(l, id, { title: 'Post all takings' })
  later(l, 60)
  const dated = edit(l, id, { due: '2027-03-01' })
  later(l, 40)
  expect(sweepAll(l)).toBe(2)
  expect(l.rows('select distinct "change" from journal').map((r) => r['change'])).toEqual([dated])
  expect(() => undoChange(l.engine, l.imogen, old).whole()).toThrow('There is no such change.')
  undoChange(l.engine, l.imogen, dated).whole()
  expect(taskSheet(l.engine, l.imogen, id)).toMatchObject({ title: 'Post all takings', due: null })
  expect(last).toBeLessThan(dated)

  // A change past its time that the daily sweep has not reached is not taken back in part.
  const more = edit(l, id, { title: 'Post' })
  later(l, 91)
  expect(() => undoChange(l.engine, l.imogen, more).whole()).toThrow(
    /before what the journal keeps/,
  )
  const row = listChanges(l.engine, l.imogen, {}).changes.find((c) => c.change === more)
  expect(row?.mayUndo).toBe(false)
})

it('never forgets the newest change, so that numbers are not given twice', () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, journal: 30 })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result
  const newest = edit(l, id, { title: 'Post the takings' })
  later(l, 400)
  sweepAll(l)
  expect(l.latest()).toBe(newest)
})

it('leaves what is unread, unsent, and what keeps people of open tasks from being told twice', () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, runs: 30, notices: 30, mail: 30 })
  const open = makeTask(l.engine, l.imogen, { title: 'Open' }).result.id
  const done = makeTask(l.engine, l.imogen, { title: 'Done' }).result.id
  editTask(l.engine, l.imogen, done, { patch: { state: 'done' }, seen: null })
  l.engine.journal.change(ENGINE, (write) => {
    const at = write.at
    for (const itemId of [open, done])
      write.insert('runs', {
        ...{ key: `told:${itemId}`, itemKind: 'task', itemId, outcome: 'done' },
        ...{ summary: 'Told', reasons: [], at },
      })
    for (const readAt of [null, at])
      write.insert('notices', {
        ...{
          personId: l.tobias.id,
          kind: 'assigned',
          body: readAt ? 'Read' : 'Unread',
          at,
          readAt,
        },
      })
    for (const state of ['waiting', 'sent', 'failed'] as const)
      write.insert('outbox', {
        ...{ key: state, recipient: 't@quillhaven.example', subject: 's', body: 'b' },
        ...{ state, nextAt: at, createdAt: at },
      })
  })
  later(l, 29)
  sweepAll(l)
  expect(l.rows('select 1 from outbox')).toHaveLength(3)
  later(l, 2)
  sweepAll(l)
  expect(l.rows("select itemId from runs where key like 'told:%'")).toEqual([{ itemId: open }])
  expect(l.rows("select body from notices where body in ('Read', 'Unread')")).toEqual([
    { body: 'Unread' },
  ])
  expect(l.rows('select key from outbox')).toEqual([{ key: 'waiting' }])
})

it('lets go of a file once nothing can bring it back, and of no file that is still filed', async () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, journal: 90 })
  const { id: taskId } = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result
  const file = async (text: string) => {
    const added = await addFile(
      l.engine,
      l.imogen,
      { taskId },
      { name: `${text}.txt`, bytes: Buffer.from(text) },
    )
    return added.result.id
  }
  const digests = () =>
    l.rows('select digest from attachments order by id').map((r) => String(r['digest']))
  const [gone] = [await file('gone'), await file('kept'), await file('twice')]
  const twice = await file('twice')
  const [ofGone = '', ofKept = '', ofTwice = ''] = digests()
  const off = removeAttachment(l.engine, l.imogen, gone).change!
  removeAttachment(l.engine, l.imogen, twice)
  later(l, 60)
  const last = edit(l, taskId, { title: 'Post all takings' })
  sweepAll(l)
  expect((await l.engine.files.read(ofGone))?.toString()).toBe('gone')
  undoChange(l.engine, l.imogen, off).whole()
  removeAttachment(l.engine, l.imogen, gone)
  later(l, 91)
  edit(l, taskId, { title: 'Post' })
  sweepAll(l)
  expect(await l.engine.files.read(ofGone)).toBeNull()
  expect((await l.engine.files.read(ofKept))?.toString()).toBe('kept')
  expect((await l.engine.files.read(ofTwice))?.toString()).toBe('twice')
  expect(last).toBeGreaterThan(off)
})

it('passes what stays by once: ten thousand runs in twenty portions, beside ten thousand that stay', () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, runs: 30 })
  const open = makeTask(l.engine, l.imogen, { title: 'Open' }).result.id
  l.engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < 20_000; i++)
      write.insert('runs', {
        ...{ key: `run:${i}`, itemKind: i % 2 ? 'task' : null, itemId: i % 2 ? open : null },
        ...{ outcome: 'done', summary: 'Told', reasons: [], at: write.at + i },
      })
  })
  later(l, 31)
  expect(sweepAll(l)).toBe(20)
  expect(l.rows("select count(*) as n from runs where key like 'run:%'")).toEqual([{ n: 10_000 }])
})

it('a sweep that breaks off half-way loses nothing and goes on the next time', () => {
  const l = lab()
  setRetention(l.engine, l.imogen, { ...GOOD, journal: 30 })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result
  for (let i = 0; i < 1200; i++) edit(l, id, { title: `Takings ${i}` })
  later(l, 31)
  const newest = edit(l, id, { title: 'Post all takings' })
  for (const _ of sweep(l.engine)) break
  expect(l.rows('select count(*) as n from journal')[0]!['n']).toBeGreaterThan(500)
  sweepAll(l)
  expect(l.rows('select distinct "change" from journal')).toEqual([{ change: newest }])
  expect(taskSheet(l.engine, l.imogen, id).title).toBe('Post all takings')
})

it('says for thirty days alone that a rule was woken and left, however long runs are kept', () => {
  const l = lab()
  const { id } = makeRule(l.engine, l.imogen, {
    ...{ name: 'Thin', ownerId: l.imogen.id },
    definition: {
      trigger: { kind: 'changed', field: 'priority', to: [] },
      conditions: { match: 'all', of: [{ field: 'estimate', op: 'at-least', value: 60 }] },
      actions: [{ kind: 'comment', text: 'Seen' }],
    },
  }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  const task = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result.id
  const priority = (to: 'low' | 'high', estimate: number) => {
    editTask(l.engine, l.imogen, task, { patch: { priority: to, estimate }, seen: null })
    l.runner.tick()
  }
  const outcomes = () => l.rows('select outcome from runs order by id').map((r) => r['outcome'])
  priority('high', 10)
  priority('low', 90)
  expect(outcomes()).toEqual(['skipped', 'done'])
  later(l, 29)
  sweepAll(l)
  expect(outcomes()).toHaveLength(2)
  later(l, 2)
  expect(sweepAll(l)).toBe(1)
  expect(outcomes()).toEqual(['done'])
})

it('forgets whom reminders went to as the notices of it go', () => {
  const l = lab()
  l.engine.journal.change(ENGINE, (write) => {
    for (const day of ['2026-11-20', '2026-11-21'])
      write.insert('reminded', {
        ...{ reminderId: 1, personId: l.imogen.id, day: isoDate(day), at: write.at },
      })
  })
  later(l, 40)
  sweepAll(l)
  expect(l.rows('select id from reminded')).toHaveLength(2)
  setRetention(l.engine, l.imogen, { ...GOOD, notices: 30 })
  sweepAll(l)
  expect(l.rows('select id from reminded')).toEqual([])
})
