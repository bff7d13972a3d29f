import type { TaskPatch, TaskSheet } from '#contract/tasks.ts'

/**
 * An edit of a task; one that goes by how the task stands is worked out when its turn comes, so
 * that what was chosen a moment before, and is still on its way, is not undone by it.
 */
export type Edit = TaskPatch | ((now: TaskSheet) => TaskPatch)

/** Numbers with one more, or without it where it was among them. */
export const toggled = (ids: readonly number[], id: number): number[] =>
  ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]

const idsOf = (list: readonly { readonly id: number }[]): number[] => list.map(({ id }) => id)
/** Puts somebody, or something, on a task or takes it off. */
export const toggling =
  (field: 'assignees' | 'followers' | 'tags', id: number) =>
  (now: TaskSheet): TaskPatch => ({ [field]: toggled(idsOf(now[field]), id) })
