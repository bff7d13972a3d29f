import { trigger } from './trigger.ts'

export const workDone = trigger<'work-done', object>({
  kind: 'work-done',
  name: 'the last open task of a project is closed',
  args: {},
  blank: {},
  words: () => 'the last open task of a project is closed',
})
