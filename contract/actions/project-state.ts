import { PROJECT_STATE_NAMES, PROJECT_STATES, type ProjectState } from '#core/words.ts'
import { action } from './action.ts'

export const projectState = action<'project-state', { readonly to: ProjectState }>({
  kind: 'project-state',
  name: 'Set where the project stands',
  needs: 'project',
  args: {
    to: {
      ...{ type: 'choice', label: 'Where' },
      choices: PROJECT_STATES.map((value) => ({ value, name: PROJECT_STATE_NAMES[value] })),
    },
  },
  blank: { to: 'hold' },
  changes: ({ to }) => [{ place: 'project.changed:state', to }],
  words: ({ to }) => `set the project to ${PROJECT_STATE_NAMES[to].toLowerCase()}`,
})
