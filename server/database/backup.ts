import { createHash } from 'node:crypto'
import {
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
} from 'node:fs'
import { join, resolve } from 'node:path'
import Sqlite from 'better-sqlite3'
import { holdFolder } from './lock.ts'

/** A firm's database and files, copied whole while it runs, and put back. */

const DATABASE = 'fernwick.sqlite'
const FILES = 'files'

/** What a copy holds. */
export interface Kept {
  readonly tasks: number
  readonly changes: number
  readonly files: number
}

const isEmpty = (folder: string): boolean => !existsSync(folder) || readdirSync(folder).length === 0

/**
 * Looks through a copy as a whole: the database is sound, and every file it speaks of is there and
 * is what it was. @throws Error that says what is wrong
 */
export function checkCopy(folder: string): Kept {
  const db = new Sqlite(join(folder, DATABASE), { readonly: true, fileMustExist: true })
  try {
    const sound = db.pragma('integrity_check', { simple: true })
    if (sound !== 'ok') throw new Error(`the database in ${folder} is damaged: ${String(sound)}`)
    const loose = db.pragma('foreign_key_check') as unknown[]
    if (loose.length)
      throw new Error(`the database in ${folder} has ${loose.length} rows that point at nothing`)
    const digests = db
      .prepare('select distinct digest from attachments where digest is not null')
      .pluck()
      .all() as string[]
    for (const digest of digests) {
      const file = join(folder, FILES, digest.slice(0, 2), digest)
      const there = existsSync(file) && readFileSync(file)
      if (!there || createHash('sha256').update(there).digest('hex') !== digest)
        throw new Error(`the file ${digest} is missing from ${folder}, or is not what it was`)
    }
    const count = (sql: string) => Number(db.prepare(sql).pluck().get())
    return {
      tasks: count('select count(*) from tasks'),
      changes: count('select coalesce(max("change"), 0) from journal'),
      files: digests.length,
    }
  } finally {
    db.close()
  }
}

/**
 * Copies the firm in a folder to a new one, as it stands at one moment; it may run meanwhile. The
 * copy appears when it has been checked, whole or not at all.
 * @throws Error where there is no firm, or something in the way
 */
export function backUp(data: string, to: string): Kept {
  const file = join(data, DATABASE)
  if (!existsSync(file)) throw new Error(`there is no firm in ${data}`)
  if (!isEmpty(to)) throw new Error(`${to} is not empty; name a folder that is not there yet`)
  const part = `${resolve(to)}.part`
  rmSync(part, { recursive: true, force: true })
  mkdirSync(part, { recursive: true })
  try {
    const db = new Sqlite(file, { readonly: true, fileMustExist: true })
    try {
      db.prepare('vacuum into ?').run(join(part, DATABASE))
    } finally {
      db.close()
    }
    // Files are never changed: what the copied database speaks of is there, or was before.
    if (existsSync(join(data, FILES)))
      cpSync(join(data, FILES), join(part, FILES), {
        recursive: true,
        filter: (path) => !path.endsWith(join(FILES, 'writing')),
      })
    const kept = checkCopy(part)
    rmSync(to, { recursive: true, force: true })
    renameSync(part, to)
    return kept
  } catch (error) {
    rmSync(part, { recursive: true, force: true })
    throw error
  }
}

/**
 * Puts a copy in the place of the firm in a folder, which no server may run on. What was there stays
 * beside it; answers where. @throws Error where the copy is not sound
 */
export function restore(
  data: string,
  from: string,
  stamp: string,
): Kept & { aside: string | null } {
  const kept = checkCopy(from)
  mkdirSync(data, { recursive: true })
  const letGo = holdFolder(data)
  try {
    const part = join(data, 'restoring')
    rmSync(part, { recursive: true, force: true })
    cpSync(from, part, { recursive: true })
    checkCopy(part)
    const there = [DATABASE, `${DATABASE}-wal`, `${DATABASE}-shm`, FILES].filter((name) =>
      existsSync(join(data, name)),
    )
    const aside = there.length ? join(data, `before-${stamp}`) : null
    if (aside) {
      mkdirSync(aside)
      for (const name of there) renameSync(join(data, name), join(aside, name))
    }
    for (const name of readdirSync(part)) renameSync(join(part, name), join(data, name))
    rmSync(part, { recursive: true })
    return { ...kept, aside }
  } finally {
    letGo()
  }
}
