import { trigger } from './trigger.ts'

export const made = trigger<'made', object>({
  kind: 'made',
  name: 'a task is made',
  args: {},
  blank: {},
  words: () => 'a task is made',
})
