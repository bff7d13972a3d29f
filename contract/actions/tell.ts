import { action, type Who } from './action.ts'

export const tell = action<
  'tell',
  { readonly who: Who; readonly mail: boolean; readonly text: string }
>({
  kind: 'tell',
  name: 'Tell',
  needs: 'any',
  args: {
    who: { type: 'who', label: 'Who' },
    mail: { type: 'either', label: 'Way', no: 'in the app', yes: 'in the app and by e-mail' },
    text: { type: 'text', label: 'What to say', most: 500 },
  },
  blank: { who: { is: 'lead' }, mail: true, text: 'Look at {task} for {client}' },
  words: ({ who, mail }, say) => `tell ${say.who(who)}${mail ? ', by e-mail too' : ''}`,
})
