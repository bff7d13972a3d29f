import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { addComment } from '#server/areas/tasks/comments.ts'
import { editTask, makeTask } from '#server/areas/tasks/service.ts'
import { house, ownFolder, report } from './house.ts'

/**
 * How often a change waits for the disk, where every commit is to be there (FERNWICK_SYNCHRONOUS):
 * once. Counted by the system's own trace of two runs that differ only in how much they change.
 */

const [FEW, MANY] = [100, 400]

/** What a traced run does: edits, comments and new tasks, in turn. */
function changes(file: string, count: number): void {
  const h = house(file)
  const viewer = { id: h.people[0]!, name: 'P0', access: 'manager' as const, clientId: null }
  const { id } = makeTask(h.engine, viewer, { title: 'Written on' }).result
  for (let i = 0; i < count; i++)
    if (i % 3 === 0) editTask(h.engine, viewer, id, { patch: { title: `Round ${i}` }, seen: null })
    else if (i % 3 === 1) addComment(h.engine, viewer, id, `<p>Round ${i}</p>`)
    else makeTask(h.engine, viewer, { title: `Task ${i}` })
  h.end()
}

/** How many syncs a run of some changes asks for; undefined where the system cannot tell. */
function syncs(count: number): number | undefined {
  const { folder, remove } = ownFolder()
  try {
    const trace = join(folder, 'trace')
    const here = fileURLToPath(import.meta.url)
    const ran = spawnSync(
      'strace',
      [
        ...['-f', '-qq', '-e', 'trace=fsync,fdatasync', '-o', trace],
        ...[process.execPath, here, join(folder, 'firm.sqlite'), String(count)],
      ],
      { env: { ...process.env, FERNWICK_SYNCHRONOUS: 'FULL' }, encoding: 'utf8' },
    )
    if (ran.error) return undefined
    if (ran.status !== 0) throw new Error(ran.stderr)
    return readFileSync(trace, 'utf8').match(/\bf(data)?sync\(/g)?.length ?? 0
  } finally {
    remove()
  }
}

const [file, count] = process.argv.slice(2)
if (file) changes(file, Number(count))
else {
  const [few, many] = [syncs(FEW), syncs(MANY)]
  if (few === undefined || many === undefined)
    console.log('     syncs per change: not counted, since there is no strace here')
  else {
    const each = (many - few) / (MANY - FEW)
    // A checkpoint of the log into the file, every thousand pages, has syncs of its own.
    report('syncs per change, on a file', each, 1.1, `${many - few} for ${MANY - FEW} changes`)
  }
}
