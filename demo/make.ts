import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { openDatabase } from '#server/database/open.ts'
import { folderFiles } from '#server/engine/files.ts'
import { makeDemoFirm } from './firm.ts'

// Makes the demo database if there is none; --fresh makes it anew. Made aside and moved into place
// whole.
const data = resolve(process.env['FERNWICK_DATA'] ?? 'data')
const file = join(data, 'fernwick.sqlite')
const fresh = process.argv.includes('--fresh')
if (!existsSync(file) || fresh) {
  mkdirSync(data, { recursive: true })
  const aside = join(data, 'making.sqlite')
  for (const end of ['', '-wal', '-shm']) rmSync(aside + end, { force: true })
  const db = openDatabase(aside)
  await makeDemoFirm(
    db,
    process.env['FERNWICK_TEST_NOW'] ? Date.parse(process.env['FERNWICK_TEST_NOW']) : Date.now(),
    folderFiles(join(data, 'files')),
  )
  db.sqlite.pragma('wal_checkpoint(TRUNCATE)')
  db.close()
  for (const end of ['', '-wal', '-shm']) rmSync(file + end, { force: true })
  rmSync(join(data, 'mail'), { recursive: true, force: true })
  renameSync(aside, file)
  process.stdout.write('Made the demo firm Quillhaven.\n')
}
