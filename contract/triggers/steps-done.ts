import { trigger } from './trigger.ts'

export const stepsDone = trigger<'steps-done', object>({
  kind: 'steps-done',
  name: 'all steps of a task are ticked',
  args: {},
  blank: {},
  words: () => 'all steps of a task are ticked',
})
