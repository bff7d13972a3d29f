import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { makeDemoFirm } from '#demo/firm.ts'
import { london } from '../test/lab.ts'
import { openDatabase } from './open.ts'

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
