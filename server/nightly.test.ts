import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { backUp, checkCopy } from './database/backup.ts'
import { createNightly } from './nightly.ts'
import { startServer } from './server.ts'
import { lab, london } from './test/lab.ts'

let folder = ''
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'fernwick-nightly-'))))
afterEach(() => rmSync(folder, { recursive: true }))

it('a copy is made once a night, kept for its days, and nothing else is touched', async () => {
  const [data, to] = [join(folder, 'data'), join(folder, 'copies')]
  mkdirSync(data)
  const l = lab({ file: join(data, 'fernwick.sqlite') })
  const nights: string[] = []
  const copy = (where: string) => {
    nights.push(where.slice(-10))
    return Promise.resolve(backUp(data, where))
  }
  const nightly = createNightly(l.engine, copy, { folder: to, days: 2 })
  const at = async (local: string) => {
    l.clock.set(london(local))
    return nightly.look()
  }
  expect(await at('2026-11-24T01:59')).toBeNull()
  expect(await at('2026-11-24T02:00')).toMatchObject({ files: 0 })
  expect(await at('2026-11-24T02:01')).toBeNull()
  mkdirSync(join(to, 'by hand'))
  for (const day of [25, 26, 27]) await at(`2026-11-${day}T05:00`)
  expect(nights).toEqual(['2026-11-24', '2026-11-25', '2026-11-26', '2026-11-27'])
  expect(readdirSync(to).sort()).toEqual(['2026-11-25', '2026-11-26', '2026-11-27', 'by hand'])
  expect(checkCopy(join(to, '2026-11-27'))).toMatchObject({ tasks: 0 })
  // Another process finds that of the night there.
  expect(await createNightly(l.engine, copy, { folder: to, days: 2 }).look()).toBeNull()
  expect(nights).toHaveLength(4)
  l.db.close()
})

it('one that fails is tried again an hour later, and takes nothing away', async () => {
  const l = lab()
  let works = false
  const copy = (where: string) => {
    if (!works) return Promise.reject(new Error('no room'))
    mkdirSync(where, { recursive: true })
    return Promise.resolve({ tasks: 0, changes: 0, files: 0 })
  }
  mkdirSync(join(folder, '2026-11-01'))
  const nightly = createNightly(l.engine, copy, { folder, days: 2 })
  const at = async (local: string) => {
    l.clock.set(london(local))
    return nightly.look()
  }
  expect(await at('2026-11-24T02:00')).toBeNull()
  expect(readdirSync(folder)).toEqual(['2026-11-01'])
  works = true
  expect(await at('2026-11-24T02:30')).toBeNull()
  expect(await at('2026-11-24T03:00')).not.toBeNull()
  expect(readdirSync(folder)).toEqual(['2026-11-24'])
})

it('a server that runs makes its own', async () => {
  const [data, to] = [join(folder, 'data'), join(folder, 'copies')]
  mkdirSync(data)
  lab({ file: join(data, 'fernwick.sqlite') }).db.close()
  const testNow = london('2026-11-24T02:00')
  const server = await startServer({ data, port: 0, testNow, nightly: { folder: to, days: 7 } })
  try {
    for (let i = 0; i < 500 && !existsSync(join(to, '2026-11-24')); i++)
      await new Promise((later) => setTimeout(later, 20))
    expect(checkCopy(join(to, '2026-11-24')).changes).toBeGreaterThan(0)
  } finally {
    await server.stop()
  }
})
