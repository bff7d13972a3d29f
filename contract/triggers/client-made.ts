import { trigger } from './trigger.ts'

export const clientMade = trigger<'client-made', object>({
  kind: 'client-made',
  name: 'a client is added',
  about: 'client',
  args: {},
  blank: {},
  words: () => 'a client is added',
})
