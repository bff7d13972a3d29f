import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Me } from '#contract/desks.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useDayMoves } from './useDayMoves.ts'

const sent: [string, unknown][] = []
beforeEach(() => {
  sent.length = 0
  setActivePinia(createPinia())
  vi.stubGlobal('fetch', async (path: string, { body }: { body: string }) => {
    const edit = JSON.parse(body) as object
    sent.push([path.replace('/api/v1', ''), edit])
    return new Response(JSON.stringify({ ...TASK, ...edit, version: 2 }))
  })
})
afterEach(() => vi.unstubAllGlobals())
const settled = () => new Promise((done) => setTimeout(done, 10))

const TASK = {
  ...{ id: 2, title: 'Two', version: 1, checklist: [], assignees: [] },
  ...{ start: '2026-11-24', due: '2026-11-26' },
} as unknown as TaskRow
/** Days are ten wide, and end after thirty. */
function days(member = true) {
  useSession().me = { id: 1, may: { member, structure: true } } as Me
  useTasks().rows.set(2, TASK)
  useTasks().rows.set(3, { ...TASK, id: 3, due: null })
  const known = { today: '2026-11-23' } as Known
  const dayAt = ({ x }: { x: number }) => (x < 300 ? Math.floor(x / 10) : null)
  return useDayMoves(
    () => known,
    dayAt,
    () => ({ x: 10 }),
  )
}
const at = (day: number) => ({ x: day * 10 + 5, y: 0 })
const press = (key: string, more: object = {}) =>
  ({ key, altKey: true, shiftKey: false, preventDefault: vi.fn(), ...more }) as never

it('says where a task would come to lie, and puts it there', async () => {
  const { landing, moving, carry } = days()
  const two = carry(TASK)
  if (!two) throw new Error('a member may carry it')
  expect(landing.over(two, at(8), at(5))).toBe('from Fri 27 Nov to Sun 29 Nov')
  expect(moving.value).toMatchObject({ start: '2026-11-27', due: '2026-11-29' })
  landing.over(null, at(8), at(5))
  expect(moving.value).toBe(null)
  landing.land(two, at(8), at(5))
  await settled()
  expect(sent).toEqual([['/tasks/2', { start: '2026-11-27', due: '2026-11-29' }]])
  expect(useMessages().current?.text).toBe('“Two” is from Fri 27 Nov to Sun 29 Nov.')
})
it('stretches by an edge, no further than the other', async () => {
  const { landing, carry } = days()
  const end = carry(TASK, 'end')
  const start = carry(TASK, 'start')
  if (!end || !start) throw new Error('a member may carry its edges')
  expect(landing.over(end, at(6), at(5))).toBe('from Tue 24 Nov to Fri 27 Nov')
  expect(landing.over(start, at(20), at(5))).toBe('to Thu 26 Nov')
  landing.land(end, at(6), at(5))
  await settled()
  expect(sent).toEqual([['/tasks/2', { due: '2026-11-27' }]])
})
it('leaves alone what stays where it is, has no day, or lies beside the days', async () => {
  const { landing, carry } = days()
  const two = carry(TASK)
  if (!two) throw new Error('a member may carry it')
  landing.land(two, at(5), at(5))
  landing.land(two, { x: 400, y: 0 }, at(5))
  expect(landing.takes({ kind: 'task', id: 3, name: '' })).toBe(false)
  expect(landing.takes({ kind: 'phase', id: 2, name: '' })).toBe(false)
  expect(landing.takes(two)).toBe(true)
  await settled()
  expect(sent).toEqual([])
})
it('moves by Alt and the arrows, by a day or a week, its end alone with Shift', async () => {
  const { key } = days()
  for (const pressed of [
    press('ArrowRight'),
    press('ArrowLeft', { shiftKey: true }),
    press('ArrowUp'),
    press('ArrowLeft', { altKey: false }),
  ]) {
    useTasks().rows.set(2, TASK)
    await key(pressed, TASK)
  }
  expect(sent.map(([, edit]) => edit)).toEqual([
    { start: '2026-11-25', due: '2026-11-27' },
    { due: '2026-11-25' },
    { start: '2026-11-17', due: '2026-11-19' },
  ])
})
it('is no guest’s to move', async () => {
  const { key, carry } = days(false)
  expect(carry(TASK)).toBe(false)
  await key(press('ArrowRight'), TASK)
  expect(sent).toEqual([])
})
