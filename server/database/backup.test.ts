import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, expect, it } from 'vitest'
import { addFile } from '../areas/attachments/service.ts'
import { makeTask } from '../areas/tasks/service.ts'
import { assemble } from '../assembly.ts'
import { folderFiles } from '../engine/files.ts'
import { lab } from '../test/lab.ts'
import { backUp, checkCopy, restore } from './backup.ts'
import { holdFolder } from './lock.ts'
import { openDatabase, type Database } from './open.ts'

const folders: string[] = []
afterEach(() => folders.splice(0).forEach((folder) => rmSync(folder, { recursive: true })))
function folder(): string {
  const made = mkdtempSync(join(tmpdir(), 'fernwick-backup-'))
  folders.push(made)
  return made
}
/** A firm in a folder, with a file on a task. */
async function firm() {
  const data = folder()
  const l = lab({ file: join(data, 'fernwick.sqlite') })
  const { engine } = assemble(l.db, l.clock, { files: folderFiles(join(data, 'files')) })
  const { id } = makeTask(engine, l.imogen, { title: 'Post' }).result
  const bytes = Buffer.from('Takings')
  await addFile(engine, l.imogen, { taskId: id }, { name: 'a.txt', bytes })
  return { l, engine, data }
}
const rowsOf = (db: Database) =>
  ['tasks', 'journal', 'attachments', 'people'].map((table) =>
    db.sqlite.prepare(`select * from ${table} order by id`).all(),
  )

it('a copy made while it is written to is one moment of it, and comes back the same', async () => {
  const { l, engine, data } = await firm()
  const to = join(folder(), 'copy')
  // Somebody is in the middle of a change, which is not there yet.
  l.db.sqlite.exec('begin immediate')
  l.db.sqlite.prepare("update tasks set title = 'Half a change'").run()
  const kept = backUp(data, to)
  l.db.sqlite.exec('rollback')
  expect(kept).toMatchObject({ tasks: 1, files: 1 })
  const before = rowsOf(l.db)
  makeTask(engine, l.imogen, { title: 'After the copy' })
  l.db.close()
  const { aside } = restore(data, to, 'now')
  expect(readdirSync(aside!).sort()).toContain('fernwick.sqlite')
  const again = openDatabase(join(data, 'fernwick.sqlite'))
  expect(rowsOf(again)).toEqual(before)
  again.close()
  expect(checkCopy(data)).toMatchObject({ tasks: 1, files: 1 })
})

it('nothing is written over, and a copy that is not sound is not restored', async () => {
  const { l, data } = await firm()
  const to = join(folder(), 'copy')
  backUp(data, to)
  expect(() => backUp(data, to)).toThrow(/is not empty/)
  expect(() => backUp(folder(), join(folder(), 'x'))).toThrow(/no firm/)
  const [first] = readdirSync(join(to, 'files'))
  const [digest] = readdirSync(join(to, 'files', first!))
  writeFileSync(join(to, 'files', first!, digest!), 'Other takings')
  l.db.close()
  expect(() => restore(data, to, 'now')).toThrow(/is not what it was/)
  expect(existsSync(join(data, 'before-now'))).toBe(false)
})

it('a firm that runs is not restored under its server', async () => {
  const { l, data } = await firm()
  const to = join(folder(), 'copy')
  backUp(data, to)
  const letGo = holdFolder(data)
  expect(() => restore(data, to, 'now')).toThrow(/another Fernwick runs/)
  letGo()
  l.db.close()
})
