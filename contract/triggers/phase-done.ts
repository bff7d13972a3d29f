import { trigger } from './trigger.ts'

export const phaseDone = trigger<'phase-done', object>({
  kind: 'phase-done',
  name: 'the last open task of a phase is closed',
  args: {},
  blank: {},
  words: () => 'the last open task of a phase is closed',
})
