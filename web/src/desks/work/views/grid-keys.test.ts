import { expect, it } from 'vitest'
import type { Key } from '#web/parts/task/task-keys.ts'
import { keyDoes } from './grid-keys.ts'

const key = (name: string, held: Partial<Key> = {}): Key => ({
  ...{ key: name, shiftKey: false, altKey: false, ctrlKey: false, metaKey: false },
  ...held,
})
const list = { cells: false, at: 0, columns: 3 }
const table = (at: number) => ({ cells: true, at, columns: 3 })

it('arrows and pages lead by rows and cells; with Alt a row goes past the next', () => {
  expect(keyDoes(key('ArrowDown'), list)).toEqual({ go: [1, 0] })
  expect(keyDoes(key('PageUp'), table(1))).toEqual({ go: [-12, 0] })
  expect(keyDoes(key('ArrowRight'), table(1))).toEqual({ go: [0, 1] })
  expect(keyDoes(key('ArrowUp', { altKey: true }), list)).toEqual({ shift: -1 })
  expect(keyDoes(key('ArrowRight', { altKey: true }), list)).toBe(null)
})
it('Tab goes from cell to cell, leaves a table after its last, and lists at once', () => {
  expect(keyDoes(key('Tab'), table(2))).toEqual({ go: [0, 1] })
  expect(keyDoes(key('Tab'), table(3))).toBe(null)
  expect(keyDoes(key('Tab', { shiftKey: true }), table(1))).toEqual({ go: [0, -1] })
  expect(keyDoes(key('Tab', { shiftKey: true }), table(0))).toBe(null)
  expect(keyDoes(key('Tab'), list)).toBe(null)
})
it('on a row letters mark and fold; in a cell they are typed, unless held with others', () => {
  expect(keyDoes(key('x'), list)).toEqual({ mark: 'one' })
  expect(keyDoes(key(' ', { shiftKey: true }), list)).toEqual({ mark: 'through' })
  expect(keyDoes(key('f'), list)).toEqual({ fold: true })
  expect(keyDoes(key('q'), list)).toBe(null)
  expect(keyDoes(key('Enter'), list)).toBe(null)
  expect(keyDoes(key('x'), table(0))).toEqual({ edit: 'x' })
  expect(keyDoes(key('c', { ctrlKey: true }), table(0))).toBe(null)
  for (const name of ['Enter', 'F2'])
    expect(keyDoes(key(name), table(1))).toEqual({ edit: undefined })
  expect(keyDoes(key(' '), table(1))).toEqual({ mark: 'one' })
})
