import { action } from './action.ts'

export const finishProject = action<'finish-project', object>({
  kind: 'finish-project',
  name: 'Finish the project',
  needs: 'project',
  args: {},
  blank: {},
  words: () => 'finish the project',
})
