import { action, type Who } from './action.ts'

export const remind = action<
  'remind',
  { readonly who: Who; readonly daily: boolean; readonly text: string }
>({
  kind: 'remind',
  name: 'Remind',
  args: {
    who: { type: 'who', label: 'Who' },
    daily: { type: 'either', label: 'How often', no: 'once', yes: 'every working day' },
    text: { type: 'text', label: 'What to say', most: 500 },
  },
  blank: { who: { is: 'assignees' }, daily: false, text: '{task} for {client} wants doing' },
  words: ({ who, daily }, say) => `remind ${say.who(who)}${daily ? ' every working day' : ''}`,
})
