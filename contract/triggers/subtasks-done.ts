import { trigger } from './trigger.ts'

/** It is about the task that they are a part of, while that is open. */
export const subtasksDone = trigger<'subtasks-done', object>({
  kind: 'subtasks-done',
  name: 'all subtasks of a task are closed',
  args: {},
  blank: {},
  words: () => 'all subtasks of a task are closed',
})
