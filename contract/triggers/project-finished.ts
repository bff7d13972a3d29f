import { trigger } from './trigger.ts'

export const projectFinished = trigger<'project-finished', object>({
  kind: 'project-finished',
  name: 'a project is finished',
  about: 'project',
  args: {},
  blank: {},
  words: () => 'a project is finished',
})
