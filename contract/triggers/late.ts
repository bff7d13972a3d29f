import { trigger } from './trigger.ts'

export const late = trigger<'late', object>({
  kind: 'late',
  name: 'a task is late, from the moment its due date has passed',
  args: {},
  blank: {},
  climbs: true,
  words: () => 'a task is late',
})
