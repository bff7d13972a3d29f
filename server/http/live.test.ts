import { afterEach, expect, it } from 'vitest'
import type { LiveChange } from '#contract/live.ts'
import { bulkEdit } from '../areas/tasks/bulk.ts'
import { makeTask } from '../areas/tasks/service.ts'
import type { Viewer } from '../engine/viewer.ts'
import { lab } from '../test/lab.ts'
import { createLive, type Live } from './live.ts'

let live: Live
afterEach(() => live.closeAll())

/** What a stream told of changes since it was last asked. */
function listening(viewer: Viewer) {
  const stream = live.open(() => viewer)
  return (): LiveChange[] =>
    String(stream.read() ?? '')
      .split('\n\n')
      .filter((said) => said.startsWith('event: change'))
      .map((said) => JSON.parse(said.split('data: ')[1]!) as LiveChange)
}

it.each([3, 300])(
  'of a change of %i tasks a guest hears where one is theirs, and of no other',
  (many) => {
    const l = lab()
    live = createLive(l.engine)
    const make = (title: string, assignees: number[] = []) =>
      makeTask(l.engine, l.imogen, { title, assignees }).result.id
    const others = Array.from({ length: many }, (_, i) => make(`Post ${i}`))
    const theirs = make('Theirs', [l.corrie.id])
    const [guest, member] = [listening(l.corrie), listening(l.tobias)]
    const set = { priority: 'high' } as const
    bulkEdit(l.engine, l.imogen, { ids: others, set }).whole()
    expect([guest().length, member().length]).toEqual([0, 1])
    bulkEdit(l.engine, l.imogen, { ids: [...others, theirs], set: { priority: 'low' } }).whole()
    expect(guest()).toMatchObject([{ tasks: [theirs], on: [] }])
    const [told] = member()
    expect(told!.tasks).toHaveLength(many > 200 ? 0 : many + 1)
    expect(told!.entities.includes('all')).toBe(many > 200)
  },
)
