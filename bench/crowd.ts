import { effectScope } from 'vue'
import { AT_HEADER } from '#contract/headers.ts'
import type { LiveChange } from '#contract/live.ts'
import { openSession } from '#server/http/sessions.ts'
import { isSignIn, meanwhile, OTHERS, p99, send, startApart } from '#server/test/hostile.ts'
import { useAgain, type Concern } from '#web/state/again.ts'
import { grow } from './growth-firm.ts'
import { ENGINE, ownFolder, report } from './house.ts'

/**
 * What one person's tick costs sixty browsers that hear of it, half of them on Today, half on a list
 * of all open work: how long the answers take that they ask for, and how long others wait. The
 * browsers are their streams and the application's own way of asking again.
 */

const BROWSERS = 60
/** Tenfold of the smallest firm: about 10,000 tasks. */
const SIZE = 10
/** Nobody should wait longer for an answer, in milliseconds. */
const GOAL = 250
/** All is asked again within this, in milliseconds: what is not one's own waits for its turn. */
const WITHIN = 10_000

const { folder, remove } = ownFolder()
const { db, engine, people, own } = grow(SIZE, `${folder}/fernwick.sqlite`)
engine.journal.change(ENGINE, (write) => write.update('firm', 1, { demo: true }))
/** Everybody's sessions, three each. */
const sessions = Array.from({ length: BROWSERS }, (_, i) => {
  const id = people[i % people.length]!
  return { id, cookie: `fernwick=${openSession(engine, id)}` }
})
db.close()
const server = await startApart(['dist/server/server/main.js'], folder, process.cwd())

/** Says what a stream of events tells, until it ends. */
async function listen(cookie: string, heard: (change: LiveChange) => void): Promise<void> {
  const { body } = await fetch(`${server.base}/api/v1/live`, { headers: { Cookie: cookie } })
  let text = ''
  for await (const chunk of body!.pipeThrough(new TextDecoderStream())) {
    text += chunk
    const said = text.split('\n\n')
    text = said.pop()!
    for (const each of said)
      if (each.startsWith('event: change')) heard(JSON.parse(each.split('data: ')[1]!))
  }
}

const OPEN = JSON.stringify({
  ...{ scope: { of: 'firm' }, sort: [], group: 'due', tree: true, sums: [], every: false },
  filter: { match: 'all', of: [{ field: 'open', op: 'is', value: true }] },
})
/** What a page asks for, and how much it is concerned by others' work. */
type Asks = readonly (readonly [path: string, concern: (mine: boolean) => Concern])[]
const soon = (mine: boolean): Concern => (mine ? 'now' : 'later')
const TODAY: Asks = ['/today', '/ribbon?from=2026-11-20', '/me'].map((path) => [path, soon])
const ALL_WORK: Asks = [
  [`/tasks/outline?q=${encodeURIComponent(OPEN)}`, () => 'now'],
  [`/tasks?ids=${own.tasks[4]}`, () => 'now'],
  ['/me', soon],
]

/** How long each answer took, and when the last one came, since the tick. */
const took: number[] = []
let lastAt = 0
let waiting = 0
function browse({ id, cookie }: { id: number; cookie: string }, asks: Asks): void {
  const again = asks.map(([path, concern]) => ({
    concern,
    ...useAgain(async () => {
      waiting++
      const begun = performance.now()
      const answer = await fetch(`${server.base}/api/v1${path}`, { headers: { Cookie: cookie } })
      await answer.arrayBuffer()
      waiting--
      if (!answer.ok) throw new Error(`${path}: ${answer.status}`)
      lastAt = performance.now()
      took.push(lastAt - begun)
      return Number(answer.headers.get(AT_HEADER))
    }),
  }))
  void listen(cookie, (change) => {
    for (const { hear, concern } of again) hear(change, concern(change.on.includes(id)))
  }).catch(() => undefined)
}

const pause = (wait: number) => new Promise((later) => setTimeout(later, wait))
const others = OTHERS.filter(([{ path, body }]) => !isSignIn(path) && body === undefined)
const ask = (asked: Parameters<typeof send>[1]) => send(server, asked)
const scope = effectScope()
try {
  // Threads are there before the clock runs, and code is warm.
  for (let round = 0; round < 4; round++)
    await Promise.all(
      sessions
        .slice(0, 6)
        .flatMap(({ cookie }) =>
          [...TODAY, ...ALL_WORK].map(([path]) => send({ ...server, cookie }, { path })),
        ),
    )
  for (const [asked] of others) await ask(asked)
  let made = 0
  const alone = await meanwhile(ask, () => ++made > 150, others)
  scope.run(() => sessions.forEach((each, i) => browse(each, i % 2 ? ALL_WORK : TODAY)))
  await pause(1_000)
  const begun = performance.now()
  const tick = await fetch(`${server.base}/api/v1/tasks/${own.tasks[4]}`, {
    method: 'PATCH',
    headers: { Cookie: server.cookie, Origin: server.base, 'Content-Type': 'application/json' },
    body: '{"state":"done"}',
  })
  if (!tick.ok) throw new Error(await tick.text())
  const over = () => performance.now() - begun > WITHIN && waiting === 0
  const beside = await meanwhile(ask, over, others)
  const wrong = [...alone.wrong, ...beside.wrong]
  if (wrong.length) throw new Error(wrong.join('\n'))
  const all = () => true
  const answers = took.map((each) => ({ path: '', took: each }))
  const [lone, waits] = [p99(alone.waits, all), p99(beside.waits, all)]
  report(
    'p99 of what sixty browsers ask again',
    p99(answers, all),
    GOAL,
    `${took.length} answers`,
    ' ms',
  )
  const note = `beside them, ${(waits / lone).toFixed(1)} × ${lone.toFixed(0)} ms`
  report('p99 of others', waits, GOAL, note, ' ms')
  report('the last answer after a tick', (lastAt - begun) / 1000, WITHIN / 1000, '', ' s')
} finally {
  scope.stop()
  await server.stop()
  remove()
}
