import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { random } from './fuzz/generate.ts'
import { torture } from './torture.ts'

// `npm run torture [KILLS [SEED]]`: kills the built server under load, and counts.
const [kills = '200', seed = '1'] = process.argv.slice(2)
const data = mkdtempSync(join(tmpdir(), 'fernwick-torture-'))
const command = ['dist/server/server/main.js']
const done = await torture(Number(kills), { data, command, cwd: process.cwd() }, random(+seed))
process.stdout.write(`${done.kills} kills, ${done.acknowledged} writes acknowledged\n`)
for (const [what, count] of Object.entries(done.counts)) process.stdout.write(`${count} ${what}\n`)
for (const fault of done.faults.slice(0, 50)) process.stdout.write(`BROKEN ${fault}\n`)
process.stdout.write(done.faults.length ? `${done.faults.length} broken\n` : 'Nothing is broken.\n')
if (done.faults.length) process.stdout.write(`The firm stands in ${data}.\n`)
else rmSync(data, { recursive: true })
process.exit(done.faults.length ? 1 : 0)
