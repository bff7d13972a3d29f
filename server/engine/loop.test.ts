import { expect, it, vi } from 'vitest'
import { setRetention } from '../areas/firm/service.ts'
import { editTask, makeTask } from '../areas/tasks/service.ts'
import { lab } from '../test/lab.ts'
import { createLoop } from './loop.ts'

const DAY = 86_400_000
const GOOD = { journal: null, runs: null, notices: null, mail: null }

/** A firm with a loop whose mails are only counted. */
function looped(send = () => Promise.resolve()) {
  const l = lab()
  const { engine, db, runner } = l
  return { l, loop: createLoop({ engine, db, runner, send, byHand: true }) }
}

it('sweeps once a day, whatever is changed meanwhile', async () => {
  const { l, loop } = looped()
  setRetention(l.engine, l.imogen, { ...GOOD, journal: 30 })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post takings' }).result
  const optimize = vi.spyOn(l.db, 'optimize')
  await loop.settle()
  editTask(l.engine, l.imogen, id, { patch: { title: 'Post' }, seen: null })
  await loop.settle()
  expect(optimize).toHaveBeenCalledTimes(1)
  l.clock.set(l.clock.now() + 31 * DAY)
  const newest = editTask(l.engine, l.imogen, id, { patch: { title: 'Takings' }, seen: null })
  await loop.settle()
  expect(optimize).toHaveBeenCalledTimes(2)
  expect(l.rows('select distinct "change" from journal')).toEqual([{ change: newest.change }])
  loop.stop()
})

it('a fault in one go is logged, and the next goes on', async () => {
  const { l, loop } = looped()
  const error = vi.spyOn(l.engine.log, 'error')
  const tick = vi.spyOn(l.runner, 'steps').mockImplementationOnce(() => {
    throw new Error('no room')
  })
  await loop.settle()
  expect(error).toHaveBeenCalledWith(expect.anything(), expect.stringContaining('trying again'))
  tick.mockClear()
  loop.changed()
  loop.changed()
  await new Promise((next) => setImmediate(next))
  await loop.idle()
  // Two changes in one turn are one look.
  expect(tick).toHaveBeenCalledTimes(1)
  loop.stop()
})

it('once stopped it does nothing more', async () => {
  const { l, loop } = looped()
  const tick = vi.spyOn(l.runner, 'steps')
  loop.stop()
  await loop.settle()
  expect(tick).not.toHaveBeenCalled()
})
