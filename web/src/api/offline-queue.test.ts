import { afterEach, beforeEach, expect, it, vi } from 'vitest'

/** A browser's store and network, small enough to see through. */
const store = new Map<string, string>()
let online = true
const sent: string[] = []
beforeEach(() => {
  vi.resetModules()
  vi.useFakeTimers()
  store.clear()
  sent.length = 0
  online = true
  vi.stubGlobal('localStorage', {
    getItem: (k: string) => store.get(k) ?? null,
    setItem: (k: string, v: string) => store.set(k, v),
    removeItem: (k: string) => store.delete(k),
  })
  vi.stubGlobal('fetch', async (path: string, options: { body?: string }) => {
    if (!online) throw new TypeError('no connection')
    sent.push(`${path} ${options.body ?? ''}`.trim())
    return new Response('{}', { status: path.includes('refused') ? 412 : 200 })
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const kept = (path: string, body = '') => ({ method: 'PATCH', path, headers: {}, body })

it('sends at once while there is a connection', async () => {
  const { sendOrQueue, waiting } = await import('./offline-queue.ts')
  expect((await sendOrQueue(kept('/a'))).status).toBe(200)
  expect([sent, waiting.value]).toEqual([['/a'], 0])
})
it('keeps what finds none, in order, and sends it when there is one', async () => {
  const { sendOrQueue, waiting } = await import('./offline-queue.ts')
  online = false
  const first = sendOrQueue(kept('/a', '1'))
  const second = sendOrQueue(kept('/b', '2'))
  await vi.advanceTimersByTimeAsync(5_000)
  expect([sent, waiting.value, JSON.parse(store.get('fernwick.kept')!).length]).toEqual([[], 2, 2])
  online = true
  // Something new waits its turn behind what is kept.
  const third = sendOrQueue(kept('/c', '3'))
  await vi.advanceTimersByTimeAsync(2_500)
  expect((await Promise.all([first, second, third])).map((r) => r.status)).toEqual([200, 200, 200])
  expect([sent, waiting.value, store.has('fernwick.kept')]).toEqual([
    ['/a 1', '/b 2', '/c 3'],
    0,
    false,
  ])
})
it('a closed tab loses nothing: the next page sends it, and says what was refused', async () => {
  const before = await import('./offline-queue.ts')
  online = false
  void before.sendOrQueue(kept('/a'))
  void before.sendOrQueue(kept('/refused'))
  await vi.advanceTimersByTimeAsync(100)
  vi.resetModules()
  const after = await import('./offline-queue.ts')
  online = true
  const told: string[] = []
  after.sendLeft((detail) => told.push(detail))
  await vi.advanceTimersByTimeAsync(100)
  await vi.waitFor(() => expect(told).toEqual(['A change from before could not be saved.']))
  expect(sent.slice(0, 2)).toEqual(['/a', '/refused'])
  expect(after.waiting.value).toBe(0)
})
