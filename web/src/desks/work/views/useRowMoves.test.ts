import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { computed } from 'vue'
import type { OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { itemsOf } from './grid-items.ts'
import { useRowMoves } from './useRowMoves.ts'

const sent: [string, unknown][] = []
beforeEach(() => {
  sent.length = 0
  setActivePinia(createPinia())
  vi.stubGlobal('fetch', async (path: string, { body }: { body: string }) => {
    sent.push([path.replace('/api/v1', ''), JSON.parse(body)])
    return new Response(JSON.stringify({ id: 2, title: 'Two', version: 2 }))
  })
})
afterEach(() => vi.unstubAllGlobals())
const settled = () => new Promise((done) => setTimeout(done, 10))

const person = (id: number, name: string) => ({ id, name })
const group = (key: number, name: string, ids: number[]) =>
  ({ key, name, ids, minutes: 0 }) as unknown as OutlineGroup
/** Bea has 1 and 2, Cyr has 2 and 3; lines are 10 high. */
function list(def: Partial<ViewDefinition>) {
  const groups = [group(7, 'Bea', [1, 2]), group(8, 'Cyr', [2, 3]), group(9, 'Dov', [])]
  const addable = () => true
  const folded = { groups: new Set<string>(), rows: new Set<number>() }
  const items = computed(() => itemsOf(groups, { headed: true, folded, addable }))
  for (const id of [1, 2, 3])
    useTasks().rows.set(id, {
      ...{
        id,
        title: ['', 'One', 'Two', 'Three'][id],
        assignees: [person(7, 'Bea'), person(8, 'Cyr')],
      },
    } as unknown as TaskRow)
  const known = { directory: { people: [], fields: [] }, projects: [] } as unknown as Known
  const moves = useRowMoves(
    () => ({ def: { group: 'assignee', sort: [], ...def } as ViewDefinition, known }),
    items,
    { lineAt: ({ y }) => Math.floor(y / 10), moved: () => undefined },
  )
  const at = (line: number) => ({ x: 0, y: line * 10 + 5 })
  const two = { kind: 'task', id: 2, name: 'Two', out: '8' }
  return { ...moves, at, two }
}
const byHand = { scope: { of: 'project', id: 4 } } as const
const ofFirm = { scope: { of: 'firm' } } as const

it('says where a task would come to lie', () => {
  const { landing, over, at, two } = list(byHand)
  // a head, One, Two, add; a head, Two, Three, add; a head, add
  const said = [1, 4, 5, 6, 7, 8].map((line) => landing.over(two, at(line), at(5)))
  expect(said).toEqual([
    ...['to Bea', 'to the beginning', 'where it is', 'to the place of “Three”', 'to the end'],
    'to Dov',
  ])
  expect(over.value).toBe(8)
  landing.over(null, at(8), at(5))
  expect(over.value).toBe(null)
  expect(landing.takes({ ...two, id: 99 })).toBe(false)
})
it('out of the group it was picked up from, though it stands in others too', async () => {
  const { landing, at, two } = list(ofFirm)
  landing.land(two, at(9), at(5))
  await settled()
  expect(sent).toEqual([['/tasks/2', { assignees: [7, 9] }]])
})
it('among its own group by hand where the order is by hand, and says why not elsewhere', async () => {
  const { landing, at, two } = list(byHand)
  landing.land({ ...two, id: 3 }, at(5), at(6))
  await settled()
  expect(sent).toEqual([['/tasks/3/order', { after: 1 }]])
  const firm = list(ofFirm)
  firm.landing.land({ ...two, id: 3 }, firm.at(5), firm.at(6))
  await settled()
  expect([sent.length, useMessages().current?.text]).toEqual([
    ...[1, 'Rows are sorted by a field; take the sorting off to order them by hand.'],
  ])
})
it('by keyboard past the next row, and not past the ends', async () => {
  const { shift } = list(byHand)
  expect([await shift(1, -1), await shift(3, 1), await shift(1, 1)]).toEqual([false, false, true])
  expect(sent).toEqual([['/tasks/1/order', { after: 2 }]])
})
