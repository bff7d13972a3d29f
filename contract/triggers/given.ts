import { trigger } from './trigger.ts'

export const given = trigger<'given', object>({
  kind: 'given',
  name: 'somebody is put on a task',
  args: {},
  blank: {},
  words: () => 'somebody is put on a task',
})
