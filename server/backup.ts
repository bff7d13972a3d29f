import { resolve } from 'node:path'
import { backUp, restore } from './database/backup.ts'
import { systemClock } from './engine/clock.ts'
import { settingsOf } from './settings.ts'

// The programs behind bin/backup and bin/restore: backup TO, restore FROM.
const [what, folder] = process.argv.slice(2)
const { data } = settingsOf(process.env)
try {
  if (!folder) throw new Error(`say ${what === 'restore' ? 'which folder to restore' : 'where to'}`)
  if (what === 'restore') {
    const stamp = new Date(systemClock.now()).toISOString().slice(0, 19).replaceAll(':', '')
    const { tasks, changes, files, aside } = restore(data, resolve(folder), stamp)
    process.stdout.write(
      `Restored ${tasks} tasks, ${changes} changes and ${files} files to ${data}.\n` +
        (aside ? `What was there stands in ${aside}.\n` : ''),
    )
  } else {
    const { tasks, changes, files } = backUp(data, resolve(folder))
    process.stdout.write(`Kept ${tasks} tasks, ${changes} changes and ${files} files, checked.\n`)
  }
} catch (error) {
  const message = error instanceof Error ? error.message : String(error)
  process.stderr.write(`Nothing was done: ${message.replace(/\.$/, '')}.\n`)
  process.exit(1)
}
