import { describe, expect, it } from 'vitest'
import { refuse } from '#core/refusal.ts'
import { turns } from './turns.ts'

/** Work that is done when it is told so. */
function held() {
  let finish: (value: string) => void = () => {}
  let begun = false
  const done = new Promise<string>((resolve) => (finish = resolve))
  return {
    work: () => {
      begun = true
      return done
    },
    finish: () => finish('done'),
    begun: () => begun,
  }
}
const soon = () => new Promise((next) => setImmediate(next))
const full = () => refuse('too-many', 'wait')

describe('turns', () => {
  it('one person has so many under way, in the order asked; others are not held up', async () => {
    const turn = turns(1, 10, full)
    const [first, second, third, other] = [held(), held(), held(), held()]
    const all = [first, second, third].map(({ work }) => turn(1, undefined, work))
    const apart = turn(2, undefined, other.work)
    await soon()
    const begun = () => [first, second, third, other].map((each) => each.begun())
    expect(begun()).toEqual([true, false, false, true])
    first.finish()
    await all[0]
    await soon()
    expect(begun()).toEqual([true, true, false, true])
    for (const each of [second, third, other]) each.finish()
    expect(await Promise.all([...all, apart])).toEqual(['done', 'done', 'done', 'done'])
  })
  it('what fails, or is given up while it waits, makes way for the next', async () => {
    const turn = turns(1, 10, full)
    const failing = turn(1, undefined, () => Promise.reject(new Error('no')))
    const gone = new AbortController()
    const given = held()
    const left = turn(1, gone.signal, given.work)
    const last = turn(1, undefined, () => Promise.resolve('last'))
    gone.abort()
    await expect(failing).rejects.toThrow('no')
    await expect(left).rejects.toThrow()
    expect([given.begun(), await last]).toEqual([false, 'last'])
  })
  it('a line that is full is refused', async () => {
    const turn = turns(1, 1, full)
    const [first, second] = [held(), held()]
    const all = [turn(1, undefined, first.work), turn(1, undefined, second.work)]
    await expect(turn(1, undefined, held().work)).rejects.toThrow('wait')
    first.finish()
    second.finish()
    await Promise.all(all)
  })
})
