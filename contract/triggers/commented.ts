import { trigger } from './trigger.ts'

export const commented = trigger<'commented', object>({
  kind: 'commented',
  name: 'somebody comments on a task',
  args: {},
  blank: {},
  words: () => 'somebody comments on a task',
})
