import { action, type Who } from './action.ts'

const MAY = [
  { value: 'view', name: 'look at' },
  { value: 'comment', name: 'comment on' },
  { value: 'edit', name: 'change' },
] as const
export const share = action<
  'share',
  { readonly who: Who; readonly may: (typeof MAY)[number]['value'] }
>({
  kind: 'share',
  name: 'Share the project with',
  needs: 'project',
  args: {
    who: { type: 'who', label: 'Who' },
    may: { type: 'choice', label: 'What they may do', choices: MAY },
  },
  blank: { who: { is: 'contacts' }, may: 'view' },
  words: ({ who, may }, say) =>
    `let ${say.who(who)} ${MAY.find(({ value }) => value === may)?.name ?? may} the project`,
})
