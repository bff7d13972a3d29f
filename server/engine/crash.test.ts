import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, it } from 'vitest'
import { random } from '../test/fuzz/generate.ts'
import { torture } from '../test/torture.ts'

// `npm run torture` does the same two hundred times.
it('killed twenty times under load: nothing is lost, nothing happens twice', async () => {
  const data = mkdtempSync(join(tmpdir(), 'fernwick-crash-'))
  const cwd = fileURLToPath(new URL('../..', import.meta.url))
  const command = ['--import', 'tsx', 'server/main.ts']
  const { kills, acknowledged, counts, faults } = await torture(
    20,
    { data, command, cwd },
    random(20),
  )
  expect(faults, faults.slice(0, 8).join('\n')).toEqual([])
  expect(kills).toBe(20)
  expect(acknowledged).toBeGreaterThanOrEqual(20 * 6)
  for (const [what, count] of Object.entries(counts)) expect(count, what).toBeGreaterThan(0)
  rmSync(data, { recursive: true })
}, 900_000)
