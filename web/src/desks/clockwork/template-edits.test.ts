import { beforeEach, expect, it } from 'vitest'
import {
  addPhase,
  addTask,
  phaseOf,
  placePhase,
  placeTask,
  removeTask,
  roleNamed,
  shiftTask,
  stepPhase,
  stepTask,
  tasksOf,
  type Draft,
} from './template-edits.ts'

let draft: Draft
const task = (key: string, days: number) => ({
  ...{ key, title: key },
  due: { days, unit: 'working' as const },
})
beforeEach(() => {
  draft = {
    ...{ name: 'Books', anchor: 'deadline', roles: [{ key: 'role-1', name: 'Bookkeeper' }] },
    phases: [
      { key: 'gather', name: 'Gather', tasks: [task('a', -5), task('b', -4), task('c', -3)] },
      { key: 'close', name: 'Close', tasks: [{ ...task('d', -1), start: { days: -2 } }] },
    ],
  }
})
const laid = () => draft.phases.map((p) => `${p.key}: ${p.tasks.map((t) => t.key).join('')}`)

it('a task goes to the place of another, up, down, into another phase, or to an end', () => {
  placeTask(draft, 'c', 'gather', 'a')
  expect(laid()).toEqual(['gather: cab', 'close: d'])
  placeTask(draft, 'c', 'gather', 'b')
  expect(laid()).toEqual(['gather: abc', 'close: d'])
  placeTask(draft, 'a', 'close', 'd')
  expect(laid()).toEqual(['gather: bc', 'close: ad'])
  placeTask(draft, 'b', 'close')
  expect(laid()).toEqual(['gather: c', 'close: adb'])
  placeTask(draft, 'b', 'close', 'b')
  placeTask(draft, 'gone', 'close')
  placeTask(draft, 'b', 'gone')
  expect(laid()).toEqual(['gather: c', 'close: adb'])
})
it('steps go up and down by one, over the end of their phase too; phases likewise', () => {
  stepTask(draft, 'b', -1)
  expect(laid()).toEqual(['gather: bac', 'close: d'])
  stepTask(draft, 'c', 1)
  expect(laid()).toEqual(['gather: ba', 'close: cd'])
  stepTask(draft, 'c', -1)
  expect(laid()).toEqual(['gather: bac', 'close: d'])
  stepTask(draft, 'b', -1)
  stepTask(draft, 'd', 1)
  expect(laid()).toEqual(['gather: bac', 'close: d'])
  stepPhase(draft, 'gather', 1)
  stepPhase(draft, 'close', -1)
  expect(laid()).toEqual(['close: d', 'gather: bac'])
})
it('a phase goes to the place of another, with its tasks', () => {
  placePhase(draft, 'close', 'gather')
  expect(laid()).toEqual(['close: d', 'gather: abc'])
  placePhase(draft, 'close', 'gone')
  expect(laid()).toEqual(['close: d', 'gather: abc'])
})
it('what is added has a key of its own, whatever was removed before', () => {
  const key = addTask(draft, draft.phases[0]!)
  expect(tasksOf(draft).find((t) => t.key === key)?.due.days).toBe(-3)
  removeTask(draft, 'a')
  const next = addTask(draft, draft.phases[1]!)
  expect(new Set(tasksOf(draft).map((t) => t.key)).size).toBe(tasksOf(draft).length)
  expect([next === key, phaseOf(draft, next)?.key]).toEqual([false, 'close'])
  addPhase(draft)
  addPhase(draft)
  expect(new Set(draft.phases.map((p) => p.key)).size).toBe(4)
  expect([roleNamed(draft, 'bookkeeper'), draft.roles?.length]).toEqual(['role-1', 1])
  expect([roleNamed(draft, 'Payroll clerk'), draft.roles?.length]).toEqual(['role-2', 2])
})
it('moved by days, a task keeps its length', () => {
  shiftTask(draft, 'd', 3)
  expect(phaseOf(draft, 'd')?.tasks[0]).toMatchObject({ due: { days: 2 }, start: { days: 1 } })
})
