import { afterEach, beforeEach, expect, it, vi } from 'vitest'

/** A browser's store, network and tabs, small enough to see through. */
const store = new Map<string, string>()
let online = true
/** Who is signed in at the server; null: nobody any more. */
let signedIn: number | null = 1
const sent: string[] = []
const tabs = new Set<Tab>()
class Tab {
  hear: (event: { data: unknown }) => void = () => {}
  constructor() {
    tabs.add(this)
  }
  addEventListener(_: string, hear: Tab['hear']): void {
    this.hear = hear
  }
  postMessage(data: unknown): void {
    for (const tab of tabs) if (tab !== this) tab.hear({ data })
  }
}
/** Locks of a browser: whoever asks waits for whoever has one. */
let last: Promise<unknown> = Promise.resolve()
const locks = {
  request: (_: string, work: () => Promise<unknown>) => (last = last.then(work, work)),
}
const problem = (status: number, code: string) =>
  new Response(JSON.stringify({ code, detail: `It is ${code}.` }), { status })

beforeEach(() => {
  vi.useFakeTimers()
  store.clear()
  tabs.clear()
  sent.length = 0
  online = true
  signedIn = 1
  last = Promise.resolve()
  vi.stubGlobal('localStorage', {
    getItem: (k: string) => store.get(k) ?? null,
    setItem: (k: string, v: string) => store.set(k, v),
    removeItem: (k: string) => store.delete(k),
    key: (i: number) => [...store.keys()][i] ?? null,
    get length() {
      return store.size
    },
  })
  vi.stubGlobal('BroadcastChannel', Tab)
  vi.stubGlobal('navigator', { locks })
  vi.stubGlobal('fetch', async (path: string, options: RequestInit) => {
    if (!online) throw new TypeError('no connection')
    const { 'Fernwick-Person': whose } = options.headers as Record<string, string>
    if (signedIn === null) return problem(401, 'not-signed-in')
    if (whose && whose !== String(signedIn)) return problem(409, 'other-person')
    sent.push(`${path} ${String(options.body ?? '')}`.trim())
    return path.includes('refused') ? problem(412, 'stale') : new Response('{}')
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const change = (path: string, body = '') => ({ method: 'PATCH', path, headers: {}, body })
/** A page that somebody is signed in on. */
async function page(person: number | null = 1) {
  vi.resetModules()
  const queue = await import('./offline-queue.ts')
  const told: string[] = []
  const become = (id: number | null) => queue.sendFor(id, (detail) => told.push(detail))
  become(person)
  return { ...queue, become, told }
}
const later = (ms: number) => vi.advanceTimersByTimeAsync(ms)

it('sends at once while there is a connection', async () => {
  const { sendOrQueue, waiting } = await page()
  expect((await sendOrQueue(change('/a'))).status).toBe(200)
  expect([sent, waiting.value, store.size]).toEqual([['/a'], 0, 0])
})
it('keeps what finds none, in order, and sends it when there is one', async () => {
  const { sendOrQueue, waiting } = await page()
  online = false
  const first = sendOrQueue(change('/a', '1'))
  const second = sendOrQueue(change('/b', '2'))
  await later(5_000)
  expect([sent, waiting.value, store.size]).toEqual([[], 2, 2])
  online = true
  // Something new waits its turn behind what is kept.
  const third = sendOrQueue(change('/c', '3'))
  await later(2_500)
  expect((await Promise.all([first, second, third])).map((r) => r.status)).toEqual([200, 200, 200])
  expect([sent, waiting.value, store.size]).toEqual([['/a 1', '/b 2', '/c 3'], 0, 0])
})
it('a closed tab loses nothing: the next page sends it, and says what was refused', async () => {
  const before = await page()
  online = false
  void before.sendOrQueue(change('/a'))
  void before.sendOrQueue(change('/refused'))
  await later(100)
  // The tab is closed: its lock is free.
  last = Promise.resolve()
  before.become(null)
  online = true
  const after = await page()
  await later(100)
  expect(after.told).toEqual(['It is stale.'])
  expect(sent).toEqual(['/a', '/refused'])
  expect([after.waiting.value, store.size]).toEqual([0, 0])
})
it('what somebody left is sent in nobody else’s name, but when they are back', async () => {
  const { sendOrQueue, waiting, become } = await page()
  online = false
  void sendOrQueue(change('/mine'))
  await later(100)
  become(null)
  signedIn = 2
  online = true
  become(2)
  await later(5_000)
  expect([sent, waiting.value, store.size]).toEqual([[], 0, 1])
  expect((await sendOrQueue(change('/other'))).status).toBe(200)
  become(null)
  signedIn = 1
  become(1)
  await later(5_000)
  expect([sent, store.size]).toEqual([['/other', '/mine'], 0])
})
it('a change that finds its session over, or somebody else signed in, waits for whoever made it', async () => {
  const { sendOrQueue, become, told } = await page()
  signedIn = null
  expect((await sendOrQueue(change('/a'))).status).toBe(401)
  signedIn = 2
  const second = sendOrQueue(change('/b'))
  await later(100)
  expect([sent, store.size]).toEqual([[], 2])
  signedIn = 1
  become(1)
  await later(100)
  expect([sent, store.size, told]).toEqual([['/a', '/b'], 0, []])
  expect((await second).status).toBe(200)
})
it('two tabs write over nothing of each other’s, send each change once, and each hears its answer', async () => {
  const one = await page()
  const two = await page()
  online = false
  const answers = [
    one.sendOrQueue(change('/one')),
    two.sendOrQueue(change('/two')),
    two.sendOrQueue(change('/refused')),
  ]
  await later(100)
  expect(store.size).toBe(3)
  online = true
  await later(5_000)
  expect((await Promise.all(answers)).map((r) => r.status)).toEqual([200, 200, 412])
  expect(sent.toSorted()).toEqual(['/one', '/refused', '/two'])
  expect([one.waiting.value, two.waiting.value, store.size]).toEqual([0, 0, 0])
})
it('without a store the queue lives as long as the page', async () => {
  vi.stubGlobal('localStorage', undefined)
  const { sendOrQueue, waiting } = await page()
  online = false
  const answer = sendOrQueue(change('/a'))
  await later(100)
  expect(waiting.value).toBe(1)
  online = true
  await later(2_500)
  expect([(await answer).status, waiting.value]).toEqual([200, 0])
})
