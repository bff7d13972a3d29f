import { action } from './action.ts'

export const finishProject = action<'finish-project', object>({
  kind: 'finish-project',
  name: 'Finish the project',
  needs: 'project',
  args: {},
  blank: {},
  changes: () => [{ place: 'project.finished' }],
  words: () => 'finish the project',
})
