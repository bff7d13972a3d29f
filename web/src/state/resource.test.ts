import { PiniaColada } from '@pinia/colada'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { createApp, effectScope, nextTick, ref, type EffectScope } from 'vue'
import type { Me } from '#contract/desks.ts'
import type { LiveChange } from '#contract/live.ts'
import { useOldAnswers, useResource } from './resource.ts'
import { useLive } from './live.ts'
import { useSession } from './session.ts'

/** What the server says now, its mark, and what it was asked. */
let said = 'one'
let mark = 1
const asked: string[] = []
let hear: (change: LiveChange) => void = () => {}
let scopes: EffectScope[] = []
let app: ReturnType<typeof createApp>
const change = (at: number, tasks: number[] = []): LiveChange => ({
  ...{ at, tasks, fields: null, on: [], projects: [] },
  ...{ entities: ['tasks'], spread: 0 },
})
/** A page that shows something, until it is left. */
function page<T>(make: () => T): { left: () => void } & T {
  const scope = effectScope()
  scopes.push(scope)
  return { ...app.runWithContext(() => scope.run(make)!), left: () => scope.stop() }
}
const settled = () => vi.advanceTimersByTimeAsync(1)

beforeEach(() => {
  vi.useFakeTimers()
  asked.length = 0
  ;[said, mark] = ['one', 1]
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(decodeURIComponent(path.replace('/api/v1', '')))
    const status = said === 'gone' ? 404 : 200
    const body = status === 404 ? { detail: 'It is gone.', status } : { said }
    const questions = [...new URL(path, 'http://house').searchParams.getAll('of')]
    const together = questions.map(() => ({ status, at: mark, body }))
    const headers = { 'Fernwick-At': String(mark) }
    return questions.length
      ? new Response(JSON.stringify(together), { headers })
      : new Response(JSON.stringify(body), { status, headers })
  })
  app = createApp({})
  const pinia = createPinia()
  app.use(pinia).use(PiniaColada, {})
  setActivePinia(pinia)
  app.runWithContext(() => {
    useSession().me = { id: 7 } as Me
    vi.spyOn(useLive(), 'subscribe').mockImplementation((listener) => {
      const before = hear
      hear = (each) => (before(each), listener(each))
      return () => {}
    })
  })
  hear = () => {}
  page(() => (useOldAnswers(), {}))
})
afterEach(() => {
  for (const scope of scopes) scope.stop()
  scopes = []
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const open = (path = '/today') => page(() => useResource<{ said: string }>(() => path))

it('is asked for once by all that show it, and shown at once to whoever comes back', async () => {
  const [first, second] = [open(), open()]
  await settled()
  expect(asked).toEqual(['/today'])
  expect([first.data.value?.said, second.data.value?.said]).toEqual(['one', 'one'])
  first.left()
  second.left()
  const back = open()
  expect(back.data.value?.said).toBe('one')
  await settled()
  expect(asked).toHaveLength(1)
})
it('grown old while it was not on show is shown, and asked for again', async () => {
  const first = open()
  await settled()
  first.left()
  ;[said, mark] = ['two', 2]
  hear(change(2))
  const back = open()
  expect(back.data.value?.said).toBe('one')
  await settled()
  expect([asked.length, back.data.value?.said]).toEqual([2, 'two'])
  // In time it grows old by itself: what is late is so by the clock.
  back.left()
  await vi.advanceTimersByTimeAsync(61_000)
  open()
  await settled()
  expect(asked).toHaveLength(3)
})
it('is nobody else’s: who signs in after sees nothing of it', async () => {
  const mine = open()
  await settled()
  app.runWithContext(() => (useSession().me = { id: 8 } as Me))
  await nextTick()
  expect(mine.data.value).toBe(null)
  await settled()
  expect([asked.length, mine.data.value?.said]).toEqual([2, 'one'])
})
it('what a change concerns is asked for together, once, and one’s own change not again', async () => {
  const [day, list] = [open('/today'), open('/projects')]
  await settled()
  asked.length = 0
  ;[said, mark] = ['two', 5]
  for (const at of [4, 5]) hear(change(at))
  await vi.advanceTimersByTimeAsync(200)
  expect(asked).toEqual(['/together?of=/today&of=/projects'])
  expect([day.data.value?.said, list.data.value?.said]).toEqual(['two', 'two'])
  hear(change(5))
  day.touched()
  await vi.advanceTimersByTimeAsync(200)
  expect(asked.slice(1)).toEqual(['/today'])
})
it('is put in place by an edit’s answer, and gone when the server says so', async () => {
  const task = open('/tasks/1')
  await settled()
  task.data.value = { said: 'edited' }
  expect(task.data.value.said).toBe('edited')
  // An answer that was asked for before the edit was made does not put it back.
  const older = task.reload()
  task.data.value = { said: 'edited again' }
  await older
  await settled()
  expect(task.data.value.said).toBe('edited again')
  said = 'gone'
  await task.reload()
  expect([task.data.value, task.error.value]).toEqual([null, 'It is gone.'])
})
it('with keep, what is shown stays until the next answer is here', async () => {
  const path = ref<string | null>('/changes?1')
  const kept = page(() =>
    useResource<{ said: string }>(() => path.value, undefined, { keep: true }),
  )
  const bare = page(() => useResource<{ said: string }>(() => path.value!.replace('?', '?and=')))
  await settled()
  said = 'two'
  path.value = '/changes?2'
  await nextTick()
  expect([kept.data.value?.said, bare.data.value]).toEqual(['one', null])
  await settled()
  expect([kept.data.value?.said, bare.data.value?.said]).toEqual(['two', 'two'])
})
