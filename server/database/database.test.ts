import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { makeDemoFirm } from '#demo/firm.ts'
import { assemble } from '../assembly.ts'
import { editTask, makeTask } from '../areas/tasks/service.ts'
import { handClock } from '../engine/clock.ts'
import { lab, london } from '../test/lab.ts'
import { openDatabase, type Database } from './open.ts'

it('every table is strict, foreign keys hold, and opening again keeps what is there', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'fernwick-db-'))
  const file = join(folder, 'fernwick.sqlite')
  const db = openDatabase(file)
  const loose = db.sqlite
    .prepare(
      "select name from sqlite_master where type = 'table' and name not like 'sqlite_%' " +
        "and name not like '\\_\\_%' escape '\\' and name not like 'search%' and sql not " +
        "like '%STRICT%'",
    )
    .all()
  expect(loose).toEqual([])
  await makeDemoFirm(db, london('2026-11-23T12:00'))
  const count = () => db.sqlite.prepare('select count(*) as n from journal').get()
  const before = count()
  db.close()
  const again = openDatabase(file)
  expect(again.sqlite.prepare('select count(*) as n from journal').get()).toEqual(before)
  expect(again.sqlite.pragma('foreign_key_check')).toEqual([])
  expect(() =>
    again.sqlite.prepare('insert into taskAssignees (taskId, personId) values (999999, 1)').run(),
  ).toThrow(/FOREIGN KEY/)
  again.close()
  rmSync(folder, { recursive: true })
})

it('the demo firm is the same every time for the same day', async () => {
  const dump = async () => {
    const db = openDatabase(':memory:')
    await makeDemoFirm(db, london('2026-11-23T12:00'))
    const rows = db.sqlite
      .prepare(
        'select id, title, state, due, dueTime, projectId, rung, closedAt from tasks order by id',
      )
      .all()
    const runs = db.sqlite.prepare('select key, outcome, summary, at from runs order by id').all()
    db.close()
    return { rows, runs }
  }
  const [one, two] = [await dump(), await dump()]
  expect(one).toEqual(two)
  expect(one.rows.length).toBeGreaterThan(400)
  expect(one.runs.length).toBeGreaterThan(100)
})

it.each(['memory', 'a file'])('a copy of a firm in %s is the same firm, apart', (where) => {
  const folder = mkdtempSync(join(tmpdir(), 'fernwick-copy-'))
  const l = where === 'memory' ? lab() : lab({ file: join(folder, 'fernwick.sqlite') })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post takings', due: '2026-11-20' }).result
  const twin = l.db.copy()
  const there = assemble(twin, handClock(l.clock.now()))
  const titles = (db: Database) => db.sqlite.prepare('select title from tasks').pluck().all()
  editTask(there.engine, l.imogen, id, { patch: { title: 'Over there' }, seen: null })
  editTask(l.engine, l.imogen, id, { patch: { title: 'Here' }, seen: null })
  expect([titles(twin), titles(l.db)]).toEqual([['Over there'], ['Here']])
  // Words are found by the index there too, which calls functions of its own.
  const found = twin.sqlite.prepare("select count(*) from search where search match 'over'").pluck()
  expect(found.get()).toBe(1)
  expect(twin.sqlite.pragma('foreign_keys', { simple: true })).toBe(1)
  twin.close()
  l.db.close()
  rmSync(folder, { recursive: true })
})
