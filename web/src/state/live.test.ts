import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import { useAgain } from './again.ts'
import { isEverything, useLive } from './live.ts'
import { useTasks } from './tasks.ts'

/** A stream of events that the test says things over. */
class Stream {
  static last: Stream
  readonly heard = new Map<string, (event: { data: string }) => void>()
  constructor() {
    Stream.last = this
  }
  addEventListener(name: string, hear: (event: { data: string }) => void): void {
    this.heard.set(name, hear)
  }
  say(name: string, data: object): void {
    this.heard.get(name)!({ data: JSON.stringify(data) })
  }
  close(): void {}
}
const change = (at: number, tasks: number[] = []): LiveChange => ({
  ...{ at, tasks, fields: null, on: [], projects: [] },
  ...{ entities: ['tasks'], spread: 0 },
})
let told = 0
const asked: string[] = []
beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('EventSource', Stream)
  vi.stubGlobal('localStorage', { getItem: () => null, setItem() {}, removeItem() {} })
  vi.stubGlobal('fetch', async (path: string, { method }: { method: string }) => {
    asked.push(`${method} ${path.replace('/api/v1', '')}`)
    const task = { id: 1, title: 'One' }
    const body = method === 'GET' ? { tasks: [task] } : task
    return new Response(JSON.stringify(body), { headers: { 'Fernwick-At': String(told) } })
  })
  setActivePinia(createPinia())
  asked.length = 0
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

it('what was told before the stream stood is asked for again, and only then', () => {
  const live = useLive()
  const heard: LiveChange[] = []
  live.subscribe((each) => heard.push(each))
  live.began(7)
  live.open()
  Stream.last.say('hello', { at: 7 })
  expect(heard).toEqual([])
  Stream.last.say('change', change(8))
  Stream.last.say('error', {})
  Stream.last.say('hello', { at: 8 })
  expect(heard).toHaveLength(1)
  Stream.last.say('hello', { at: 10 })
  expect(heard.at(-1)).toMatchObject({ at: 10 })
  expect(isEverything(heard.at(-1)!)).toBe(true)
  // As when the first answer came before the stream did.
  live.close()
  live.began(10)
  live.open()
  Stream.last.say('hello', { at: 11 })
  expect(isEverything(heard.at(-1)!)).toBe(true)
})

it('a row that holds a change already is not asked for again when one hears of it', async () => {
  const [live, tasks] = [useLive(), useTasks()]
  live.open()
  told = 3
  tasks.need([1])
  await vi.runAllTimersAsync()
  told = 4
  await tasks.edit(1, { title: 'One' }, {}, () => '')
  Stream.last.say('change', change(4, [1]))
  await vi.runAllTimersAsync()
  tasks.need([1])
  await vi.runAllTimersAsync()
  expect(asked).toEqual(['GET /tasks?ids=1', 'PATCH /tasks/1'])
  Stream.last.say('change', change(5, [1]))
  await vi.runAllTimersAsync()
  tasks.need([1])
  await vi.runAllTimersAsync()
  expect(asked.at(-1)).toBe('GET /tasks?ids=1')
  expect(asked).toHaveLength(3)
})

it('changes are asked about once in a breath, one question at a time, and not where they are held', async () => {
  const times: number[] = []
  let answer = 0
  const slow = async () => {
    times.push(Date.now())
    const mark = answer
    await new Promise((done) => setTimeout(done, 1_000))
    return mark
  }
  const begun = Date.now()
  const again = effectScope().run(() =>
    useAgain(
      slow,
      () => 0,
      () => 0.5,
    ),
  )!
  for (const at of [1, 2, 3]) again.hear(change(at), 'now')
  answer = 3
  await vi.advanceTimersByTimeAsync(500)
  expect(times).toEqual([begun + 120])
  // Told while the question is under way: asked when it is answered, since it may be missing.
  again.hear(change(4), 'now')
  await vi.advanceTimersByTimeAsync(500)
  expect(times).toHaveLength(1)
  answer = 6
  await vi.advanceTimersByTimeAsync(2_500)
  expect(times).toHaveLength(2)
  for (const at of [5, 6]) again.hear(change(at), 'now')
  again.hear(change(7), false)
  await vi.advanceTimersByTimeAsync(20_000)
  expect(times).toHaveLength(2)
  // Spread among those who ask; what shows in a corner waits.
  answer = 9
  const then = Date.now()
  again.hear({ ...change(8), spread: 2_000 }, 'now')
  await vi.advanceTimersByTimeAsync(3_000)
  expect(times[2]).toBe(then + 120 + 1_000)
  const later = Date.now()
  again.hear(change(10), 'later')
  await vi.advanceTimersByTimeAsync(20_000)
  expect(times[3]).toBe(later + 6_000)
})
