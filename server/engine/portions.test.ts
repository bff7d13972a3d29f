import { beforeAll, describe, expect, it } from 'vitest'
import { handClock } from './clock.ts'
import type { Event } from '#core/events/events.ts'
import { makeTag } from '../areas/fields/service.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { addComment } from '../areas/tasks/comments.ts'
import { cloneProject } from '../areas/projects/copy.ts'
import { bulkEdit, editEach } from '../areas/tasks/bulk.ts'
import { makeSeries, switchSeries } from '../areas/series/service.ts'
import { editTask, makeTask } from '../areas/tasks/service.ts'
import { makeTemplate } from '../areas/templates/service.ts'
import { assemble } from '../assembly.ts'
import type { Database } from '../database/open.ts'
import { expectDerived } from '../test/derived.ts'
import { lab, type Lab } from '../test/lab.ts'
import { ENGINE } from './journal.ts'
import { inTurn } from './loop.ts'
import type { Large, Progress } from './portions.ts'
import { createRunner } from './runner.ts'

/** Tables that say nothing of the work: searching, numbers given, what was begun. */
const BESIDE =
  /^(sqlite_|__drizzle|search|.*_(data|idx|content|docsize|config)$|numbers|openChanges)/
/** All rows of a firm, as they are stored. */
const dump = ({ sqlite }: Database) => {
  const names = sqlite
    .prepare("select name from sqlite_master where type = 'table'")
    .pluck()
    .all() as string[]
  return names
    .filter((name) => !BESIDE.test(name))
    .map((name) => [name, JSON.stringify(sqlite.prepare(`select * from "${name}"`).all())])
}
/** A firm with a project of many tasks, and a task beside it. */
interface Full extends Lab {
  readonly project: number
  readonly beside: number
}
const TASKS = 900
function full(): Full {
  const l = lab()
  const row = (i: number) => ({
    ...{ title: `Entry ${i}`, due: '2026-12-01', estimate: 5, assignees: [l.tobias.id] },
    phaseName: i % 2 ? 'Gather' : 'Close',
  })
  const made = editEach(l.engine, l.imogen, {
    edits: [],
    make: Array.from({ length: TASKS }, (_, i) => row(i)),
    project: { name: 'Books' },
  } as never).whole()
  const beside = makeTask(l.engine, l.imogen, { title: 'Beside' }).result.id
  l.runner.tick()
  return { ...l, project: made.result.projectId!, beside }
}
const copying = (l: Full, name = 'Books again') =>
  cloneProject(l.engine, l.imogen, l.project, {
    ...{ name, anchor: null },
    take: ['assignees', 'dates', 'description', 'subtasks'],
  })
/** Makes a large change; `meanwhile` is done once, when some of it is made. */
async function making<T>(
  l: Lab,
  large: Large<T>,
  meanwhile: (progress: Progress) => void,
  carrying: Parameters<Large<T>['inPortions']>[0] = {},
) {
  const seen: Progress[] = []
  l.engine.journal.watch((progress) => {
    seen.push(progress)
    if (seen.length === 2) setTimeout(() => meanwhile(progress))
  })
  const result = await large.inPortions(carrying)
  expect(seen.length, 'it was small').toBeGreaterThan(3)
  return { ...result, seen }
}

describe('a change of very many', () => {
  let l: Full
  beforeAll(() => {
    l = full()
  })

  it('is made in portions; others read and write meanwhile, but not what it touched', async () => {
    const told: (readonly Event[])[] = []
    const stop = l.engine.journal.subscribe((events) => told.push(events))
    const seen: string[] = []
    const {
      result,
      change,
      seen: progress,
    } = await making(l, copying(l), ({ change, of }) => {
      expect(of).toBeGreaterThanOrEqual(TASKS)
      const [copy] = l.rows<{ id: number }>('select max(id) as id from tasks')
      const write = (work: () => unknown): string => {
        try {
          work()
          return 'done'
        } catch (error) {
          return (error as { code: string }).code
        }
      }
      const edit = (id: number) => () =>
        editTask(l.engine, l.imogen, id, { patch: { priority: 'high' }, seen: null })
      const [into] = l.rows<{ id: number }>('select max(id) as id from projects')
      seen.push(
        write(edit(l.beside)),
        write(edit(copy!.id)),
        write(() => addComment(l.engine, l.imogen, copy!.id, '<p>Hm</p>')),
        write(() => makeTask(l.engine, l.imogen, { title: 'In it', projectId: into!.id })),
        write(() => makeTask(l.engine, l.imogen, { title: 'Under', parentId: copy!.id })),
        write(() => undoChange(l.engine, l.imogen, change).whole()),
      )
      expect(told).toHaveLength(1)
    })
    stop()
    const no = 'being-changed'
    expect(seen).toEqual(['done', no, no, no, no, no])
    expect(progress.map(({ done }) => done)).toEqual(
      progress.map(({ done }) => done).toSorted((a, b) => a - b),
    )
    // Told once, when it is whole.
    expect(told).toHaveLength(2)
    expect(new Set(told[1]!.map((event) => event.change))).toEqual(new Set([change]))
    expect(l.rows('select id from tasks where projectId = ?', result.id)).toHaveLength(TASKS)
    expectDerived(l.db.sqlite)
    expect(editTask(l.engine, l.imogen, l.beside + 1, { patch: {}, seen: null })).toBeTruthy()
  })

  it('is what it would have been in one go', async () => {
    const [one, two] = [full(), full()]
    await making(one, copying(one), () => undefined)
    copying(two).whole()
    expect(dump(one.db)).toEqual(dump(two.db))
  })

  it('is heard whole when it is closed, what others did meanwhile too, each once', async () => {
    const m = full()
    const heard: Event[] = []
    const hear = (_: unknown, event: Event) => void heard.push(event)
    const runner = createRunner(m.engine, { listeners: [{ name: 'test', hear }], alarms: [] })
    runner.tick()
    heard.length = 0
    const { change } = await making(m, copying(m), () => {
      addComment(m.engine, m.tobias, m.beside, '<p>Meanwhile</p>')
    })
    addComment(m.engine, m.tobias, m.beside, '<p>After</p>')
    runner.tick()
    runner.tick()
    const kinds = heard.filter((e) => e.change !== change).map((e) => e.kind)
    expect(kinds.filter((kind) => kind === 'comment.made')).toHaveLength(2)
    const mine = heard.filter((e) => e.change === change)
    expect(mine.filter((e) => e.kind === 'task.made')).toHaveLength(TASKS)
    // In the order in which they closed.
    const first = heard.findIndex((e) => e.kind === 'comment.made')
    expect(first).toBeLessThan(heard.indexOf(mine[0]!))
    expect(heard.findLastIndex((e) => e.kind === 'comment.made')).toBeGreaterThan(
      heard.lastIndexOf(mine.at(-1)!),
    )
    expect(heard.slice(heard.indexOf(mine[0]!)).slice(0, mine.length)).toEqual(mine)
  })

  it('that is stopped, or fails at its end, leaves nothing of it', async () => {
    const m = full()
    const before = dump(m.db)
    const stop = new AbortController()
    await expect(
      making(m, copying(m), () => stop.abort(), { signal: stop.signal }),
    ).rejects.toMatchObject({ code: 'stopped' })
    expect(dump(m.db)).toEqual(before)
    expectDerived(m.db.sqlite)
    const ids = m
      .rows<{ id: number }>('select id from tasks where projectId = ? order by id', m.project)
      .map(({ id }) => id)
    m.runner.tick()
    const then = dump(m.db)
    const bulk = bulkEdit(m.engine, m.imogen, { ids: [...ids, 99_999], set: { due: '2026-12-09' } })
    await expect(bulk.inPortions()).rejects.toMatchObject({ code: 'not-found' })
    const bad = editEach(m.engine, m.imogen, {
      edits: ids.map((id, i) => ({
        id,
        patch: i === ids.length - 1 ? { start: '2026-12-30' } : { due: '2026-12-08' },
      })),
      make: [],
    } as never)
    await expect(bad.inPortions()).rejects.toThrow(/Nothing was changed/)
    expect(dump(m.db)).toEqual(then)
    // A state that tasks were moved to, and back from, was never entered.
    m.until('2026-11-24T12:00')
    const dates = m.rows('select * from stateDates order by id')
    const halfway = new AbortController()
    const moving = bulkEdit(m.engine, m.imogen, { ids, set: { state: 'under-way' } })
    await expect(
      making(m, moving, () => halfway.abort(), { signal: halfway.signal }),
    ).rejects.toMatchObject({ code: 'stopped' })
    expect(m.rows('select * from stateDates order by id')).toEqual(dates)
    // What it held is free again.
    editTask(m.engine, m.imogen, ids[0]!, { patch: { priority: 'high' }, seen: null })
  })

  it('is taken back as far as there is anything to take back to', async () => {
    const m = full()
    const tag = makeTag(m.engine, m.imogen, { name: 'records', colour: 'teal' }).result.id
    const ids = m
      .rows<{ id: number }>('select id from tasks where projectId = ?', m.project)
      .map(({ id }) => id)
    bulkEdit(m.engine, m.imogen, { ids, addTags: [tag] }).whole()
    const stop = new AbortController()
    const large = bulkEdit(m.engine, m.imogen, { ids, removeTags: [tag], set: { estimate: 9 } })
    const stopped = making(
      m,
      large,
      () => {
        m.engine.journal.change(ENGINE, (write) => write.remove('tags', tag))
        stop.abort()
      },
      { signal: stop.signal },
    )
    await expect(stopped).rejects.toMatchObject({ code: 'stopped' })
    expect(m.rows('select 1 from tasks where estimate = 9')).toEqual([])
    expect(m.rows('select * from taskTags')).toEqual([])
    expect(m.rows('select * from openChanges')).toEqual([])
  })

  it('that the end of the process leaves open is taken back by the next start', async () => {
    const m = full()
    const before = dump(m.db)
    let left: Database | undefined
    await making(m, copying(m), () => (left = m.db.copy()))
    expect(dump(left!)).not.toEqual(before)
    const { engine } = assemble(left!, handClock(m.clock.now()))
    expect(dump(left!)).toEqual(before)
    expectDerived(left!.sqlite)
    expect(left!.sqlite.prepare('select * from openChanges').all()).toEqual([])
    // A number that was given is not given again.
    const next = makeTask(engine, m.imogen, { title: 'Next' }).result.id
    expect(next).toBeGreaterThan(m.beside + 1)
  })

  it('is taken back in portions, as one', async () => {
    const m = full()
    const before = JSON.stringify(m.rows('select * from tasks order by id'))
    const { change } = await copying(m).inPortions()
    const undone = await making(m, undoChange(m.engine, m.imogen, change!), () => undefined)
    expect(undone.result.left).toEqual([])
    expect(JSON.stringify(m.rows('select * from tasks order by id'))).toBe(before)
    expect(m.rows('select id from projects where name = ?', 'Books again')).toEqual([])
  })

  it('waits for another, and the engine for both', async () => {
    const m = full()
    const order: string[] = []
    const { journal } = m.engine
    await Promise.all([
      copying(m, 'One').inPortions({ closing: () => order.push('one') }),
      copying(m, 'Two').inPortions({ closing: () => order.push('two') }),
      journal.inTurn(() => order.push('engine')),
      // What touches little waits for nobody.
      bulkEdit(m.engine, m.imogen, { ids: [m.beside], set: { priority: 'low' } })
        .inPortions()
        .then(() => order.push('small')),
    ])
    expect(order).toEqual(['small', 'one', 'two', 'engine'])
  })
})

describe('an occurrence of very many tasks', () => {
  const task = (i: number) => ({
    ...{ key: `t${i}`, title: `Post ${i}`, role: 'keeper', effort: 5, due: { days: -(i % 9) } },
    checklist: ['Cash'],
  })
  /** A firm whose series makes a project of very many tasks now. */
  function due() {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, {
      ...{ name: 'Books', anchor: 'deadline', roles: [{ key: 'keeper', name: 'Bookkeeper' }] },
      phases: [
        { key: 'all', name: 'All', tasks: Array.from({ length: TASKS }, (_, i) => task(i)) },
      ],
    }).result.id
    const series = makeSeries(l.engine, l.imogen, {
      ...{ name: 'Books', leadDays: 3, schedule: { start: '2026-11-25', rule: 'FREQ=WEEKLY' } },
      makes: {
        ...{ kind: 'project', templateId: template, clientId: l.client, leadId: l.imogen.id },
        roles: { keeper: { person: l.tobias.id } },
        ...{ name: 'Books', period: { of: 'week', which: 'same' } },
      },
    }).result.id
    const beside = makeTask(l.engine, l.imogen, { title: 'Beside' }).result.id
    const made = () => [
      l.rows('select 1 from projects where seriesId is not null').length,
      l.rows("select 1 from tasks where title like 'Post%'").length,
      l.rows('select 1 from occurrences').length,
    ]
    return { l, series, beside, made }
  }
  /** What the loop does, and what somebody does when half of it is made. */
  async function steps({ l }: ReturnType<typeof due>, half: (change: number) => void) {
    let seen = 0
    l.engine.journal.watch(({ change }) => {
      if (++seen === 3) setTimeout(() => half(change))
    })
    for await (const _ of inTurn(l.engine, l.runner.steps()));
    expect(seen, 'it was small').toBeGreaterThan(3)
  }
  it('is made in portions: others write meanwhile, and it is one change', async () => {
    const d = due()
    const { l } = d
    await steps(d, () => {
      expect(d.made()).toEqual([1, expect.any(Number), 0])
      editTask(l.engine, l.imogen, d.beside, { patch: { priority: 'high' }, seen: null })
      expect(() =>
        editTask(l.engine, l.imogen, d.beside + 1, { patch: { estimate: 1 }, seen: null }),
      ).toThrow(/larger change/)
      switchSeries(l.engine, l.imogen, d.series, false)
    })
    expect(d.made()).toEqual([1, TASKS, 1])
    expect(l.rows('select outcome, summary from runs')).toEqual([
      { outcome: 'done', summary: 'Made “Books”' },
    ])
    const changes = l.rows(
      "select distinct change from journal where entity = 'tasks' and action = 'made'",
    )
    expect(changes).toHaveLength(2)
    expect(l.rows("select 1 from alarms where kind = 'series'")).toEqual([])
    expectDerived(l.db.sqlite)
  })
  it('is taken back by the next start when the process ends in it, and made once', async () => {
    const d = due()
    let left: Database | undefined
    await steps(d, () => (left = d.l.db.copy()))
    const { runner } = assemble(left!, handClock(d.l.clock.now()))
    const count = (of: string) => left!.sqlite.prepare(`select count(*) from ${of}`).pluck().get()
    expect(count("tasks where title like 'Post%'")).toBe(0)
    runner.tick()
    expect([count("tasks where title like 'Post%'"), count('occurrences')]).toEqual([TASKS, 1])
    expectDerived(left!.sqlite)
  })
  it('that fails is taken back, said, and tried again in an hour', async () => {
    const d = due()
    const { l } = d
    // A fault of the database in the last of it stands in for any.
    l.db.sqlite.exec(
      "create trigger no before insert on occurrences begin select raise(abort, 'no'); end",
    )
    await steps(d, () => undefined)
    expect(d.made()).toEqual([0, 0, 0])
    expect(l.rows('select outcome from runs')).toEqual([{ outcome: 'failed' }])
    l.db.sqlite.exec('drop trigger no')
    l.until('2026-11-23T08:59')
    expect(d.made()).toEqual([0, 0, 0])
    l.until('2026-11-23T09:00')
    expect(d.made()).toEqual([1, TASKS, 1])
  })
})
