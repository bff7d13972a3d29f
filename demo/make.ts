import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { holdFolder } from '#server/database/lock.ts'
import { openDatabase } from '#server/database/open.ts'
import { folderFiles } from '#server/engine/files.ts'
import { makeDemoFirm } from './firm.ts'

// Makes the demo database if there is none; --fresh makes it anew. Made aside and moved into place
// whole.
const data = resolve(process.env['FERNWICK_DATA'] ?? 'data')
const file = join(data, 'fernwick.sqlite')
/** Makes the firm, while no server runs on its folder. @throws Error where one does */
async function make(): Promise<void> {
  mkdirSync(data, { recursive: true })
  const letGo = holdFolder(data)
  try {
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
  } finally {
    letGo()
  }
  process.stdout.write('Made the demo firm Quillhaven.\n')
}

if (!existsSync(file) || process.argv.includes('--fresh'))
  await make().catch((error: unknown) => {
    const reason = error instanceof Error ? error.message : String(error)
    process.stderr.write(`The demo firm was not made: ${reason}\n`)
    process.exit(1)
  })
