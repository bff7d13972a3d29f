import fc from 'fast-check'
import { expect, it } from 'vitest'
import { eventKey, eventsOf, type Event } from '#core/events/events.ts'
import pino from 'pino'
import { addComment } from '../areas/tasks/comments.ts'
import { bulkEdit } from '../areas/tasks/bulk.ts'
import { editTask, makeTask } from '../areas/tasks/service.ts'
import { lab } from '../test/lab.ts'
import { Killed, mortal } from '../test/mortal.ts'
import { createEngine } from './engine.ts'
import { memoryFiles } from './files.ts'
import type { Listener } from './handlers.ts'
import { byChange, ENGINE, type Entry } from './journal.ts'
import { createRunner } from './runner.ts'
import type { Engine } from './services.ts'

/** A listener that writes down every event it hears, in the transaction it hears it in. */
let written = 0
const scribe = (name: string, apart = false): Listener => {
  const note = (engine: Engine, events: readonly Event[]) =>
    void engine.journal.change(ENGINE, (write) => {
      for (const event of events)
        write.insert('outbox', {
          ...{ key: `${name} ${written++}`, recipient: name, subject: eventKey(event), body: '' },
          ...{ nextAt: 0, createdAt: 0 },
        })
    })
  if (apart) return { name, hear: (engine, event) => note(engine, [event]) }
  return {
    name,
    *weigh(engine, events) {
      yield
      return () => note(engine, events)
    },
  }
}

/** A firm whose process can be killed at any commit, and started again. */
function mortalFirm() {
  const l = lab()
  const { db, dieAt } = mortal(l.db)
  const start = () => {
    const none = {
      address: null,
      derive: () => [],
      forgets: [],
      replays: { back: () => [], again: () => [] },
    }
    const parts = { log: pino({ level: 'silent' }), files: memoryFiles(), ...none }
    const engine = createEngine(db, l.clock, parts)
    const listeners = [scribe('first'), scribe('second', true)]
    return { engine, runner: createRunner(engine, { listeners, alarms: [] }) }
  }
  return { l, dieAt, start }
}

/**
 * What happens to a firm: work, a few steps of the engine, as many of a second walk through what is
 * due (as where a test leads the clock), a kill at its next commits, a start.
 */
type Deed = { readonly do: 'work' | 'step' | 'walk' | 'kill' | 'start'; readonly n: number }
const deed: fc.Arbitrary<Deed> = fc.record({
  do: fc.constantFrom('work', 'work', 'step', 'step', 'walk', 'walk', 'kill', 'start'),
  n: fc.nat(4),
})

it('each event comes to each listener once, in order, whatever is changed, killed and started', () => {
  let killed = 0
  fc.assert(
    fc.property(fc.array(deed, { minLength: 10, maxLength: 30 }), (deeds) => {
      const { l, dieAt, start } = mortalFirm()
      let now = start()
      let walk = now.runner.steps()
      const begin = () => {
        now = start()
        walk = now.runner.steps()
      }
      const go = (steps: typeof walk, n: number) => {
        for (let i = 0; i <= n; i++) if (steps.next().done) return false
        return true
      }
      const alive = (work: () => void) => {
        try {
          work()
        } catch (error) {
          if (!(error instanceof Killed)) throw error
          killed++
          dieAt(Infinity)
          begin()
        }
      }
      const work = [
        () => makeTask(now.engine, l.imogen, { title: 'T', assignees: [l.tobias.id], tags: [] }),
        () => editTask(now.engine, l.tobias, 1, { patch: { due: '2026-12-01' }, seen: null }),
        () => bulkEdit(now.engine, l.imogen, { ids: [1, 2], addAssignees: [l.devika.id] }).whole(),
        () => addComment(now.engine, l.devika, 1, '<p>Hm</p>'),
        () => editTask(now.engine, l.tobias, 2, { patch: { priority: 'high' }, seen: null }),
      ]
      for (let i = 0; i < 2; i++) makeTask(now.engine, l.imogen, { title: 'T' })
      for (const { do: what, n } of deeds)
        alive(() => {
          if (what === 'work') work[n]!()
          else if (what === 'kill') dieAt(1 + (n % 2))
          else if (what === 'start') begin()
          else if (what === 'step') go(now.runner.steps(), n)
          else if (!go(walk, n)) walk = now.runner.steps()
        })
      dieAt(Infinity)
      now.runner.tick()
      const entries = l
        .rows<Record<string, string>>('select * from journal order by id')
        .map((row) => ({
          ...row,
          actor: { kind: row['actorKind'], id: row['actorId'] },
          item: row['itemKind'] && { kind: row['itemKind'], id: row['itemId'] },
          before: JSON.parse(row['before'] ?? 'null') as unknown,
          after: JSON.parse(row['after'] ?? 'null') as unknown,
        })) as unknown as Entry[]
      const events = byChange(entries).flatMap(eventsOf).map(eventKey)
      for (const name of ['first', 'second'])
        expect(
          l
            .rows<{ key: string }>(
              'select subject as key from outbox where recipient = ? order by id',
              name,
            )
            .map(({ key }) => key),
        ).toEqual(events)
    }),
    { numRuns: 100 },
  )
  expect(killed).toBeGreaterThan(20)
})

it('a change of more rows than are read at once is heard whole; one that is not heard holds up none', () => {
  const { l, start } = mortalFirm()
  const { engine } = start()
  const heard: string[] = []
  const faulty: Listener = {
    name: 'faulty',
    *weigh(_, events) {
      yield
      if (events.length > 1000) throw new Error('too much')
      return () => void heard.push(...events.map(({ kind }) => kind))
    },
  }
  const counts: number[] = []
  const counting: Listener = {
    name: 'counting',
    *weigh(_, events) {
      yield
      return () => void counts.push(events.length)
    },
  }
  const runner = createRunner(engine, { listeners: [faulty, counting], alarms: [] })
  runner.tick()
  counts.length = heard.length = 0
  engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < 1300; i++) write.insert('tags', { name: `t${i}`, colour: 'teal' })
  })
  makeTask(engine, l.imogen, { title: 'After' })
  runner.tick()
  expect(counts).toEqual([1300, 1])
  expect(heard).toEqual(['task.made'])
})

it('one of many that fails in a share is told once, and all others are heard once', () => {
  const { l, start } = mortalFirm()
  const { engine } = start()
  const errors: unknown[] = []
  const log = pino({ level: 'error' }, { write: (line: string) => void errors.push(line) })
  const noting: Listener = {
    name: 'noting',
    hear({ journal }, { id }) {
      journal.change(ENGINE, (write) => {
        write.insert('turns', { id: `heard:${id}`, personId: l.imogen.id })
        if (id % 5 === 0) throw new Error('a fifth')
      })
    },
  }
  const runner = createRunner({ ...engine, log }, { listeners: [noting], alarms: [] })
  runner.tick()
  errors.length = 0
  const count = () => l.rows("select 1 from turns where id like 'heard:%'").length
  const stood = count()
  engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < 20; i++) write.insert('tags', { name: `t${i}`, colour: 'teal' })
  })
  runner.tick()
  expect([count() - stood, errors.length]).toEqual([16, 4])
})

it('a change of very many is heard in portions by who hears each event by itself, and goes on after a stop', () => {
  const { l, start } = mortalFirm()
  const { engine } = start()
  const heard: number[] = []
  const slow: Listener = {
    name: 'slow',
    hear(_, event) {
      heard.push(event.id)
      for (const until = performance.now() + 15; performance.now() < until;);
    },
  }
  const runner = () => createRunner(engine, { listeners: [slow], alarms: [] })
  runner().tick()
  heard.length = 0
  engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < 16; i++) write.insert('tags', { name: `t${i}`, colour: 'teal' })
  })
  const steps = runner().steps()
  steps.next()
  steps.next()
  const before = heard.length
  expect(before).toBeGreaterThan(2)
  expect(before).toBeLessThan(16)
  runner().tick()
  expect(new Set(heard).size).toBe(16)
  expect(heard).toEqual([...heard].sort((a, b) => a - b))
  expect(heard).toHaveLength(16)
  expect(l.rows("select heard from positions where name = 'slow'")).toEqual([{ heard: 0 }])
})

it('an alarm of a kind that nobody knows is an error, loudly', () => {
  const l = lab()
  l.db.sqlite.exec(
    "insert into alarms (at, kind, key, itemKind, itemId) values (0, 'rumour', 'x', 'task', 1)",
  )
  expect(() => l.runner.tick()).toThrow(/“rumour”/)
})
