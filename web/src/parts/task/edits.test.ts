import { expect, it } from 'vitest'
import type { TaskSheet } from '#contract/tasks.ts'
import { toggled, toggling } from './edits.ts'

it('puts on, and takes off what is on; the others stay in their order', () => {
  expect(toggled([], 2)).toEqual([2])
  expect(toggled([2, 1], 3)).toEqual([2, 1, 3])
  expect(toggled([2, 1, 3], 1)).toEqual([2, 3])
})

it('goes by how the task stands when its turn comes: of two choices in haste none is lost', () => {
  const [first, second] = [toggling('assignees', 1), toggling('assignees', 2)]
  const people = (ids: readonly number[]) =>
    ({ assignees: ids.map((id) => ({ id })), tags: [{ id: 7 }] }) as unknown as TaskSheet
  const after = first(people([])).assignees!
  expect(second(people(after))).toEqual({ assignees: [1, 2] })
  expect(toggling('tags', 7)(people([]))).toEqual({ tags: [] })
})
