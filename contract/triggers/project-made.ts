import { trigger } from './trigger.ts'

export const projectMade = trigger<'project-made', object>({
  kind: 'project-made',
  name: 'a project is made',
  about: 'project',
  args: {},
  blank: {},
  words: () => 'a project is made',
})
