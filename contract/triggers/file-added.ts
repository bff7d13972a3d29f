import { trigger } from './trigger.ts'

export const fileAdded = trigger<'file-added', object>({
  kind: 'file-added',
  name: 'a file is put on a task',
  args: {},
  blank: {},
  words: () => 'a file is put on a task',
})
