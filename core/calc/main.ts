import { createInterface } from 'node:readline'
import { answer, KINDS } from './kinds.ts'

// The command around `answer`: standard input to standard output, a line for a line.
const kind = process.argv[2] ?? ''
if (!Object.hasOwn(KINDS, kind)) {
  process.stderr.write(
    `calc: there is no kind “${kind}”; use one of ${Object.keys(KINDS).join(', ')}.\n`,
  )
  process.exit(2)
}
process.stdout.on('error', () => process.exit(0))
for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity })) {
  if (!process.stdout.write(`${answer(kind, line)}\n`))
    await new Promise((resolve) => process.stdout.once('drain', resolve))
}
