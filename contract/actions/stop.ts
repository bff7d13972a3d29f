import { action } from './action.ts'

/** Nothing after it is done. */
export const stop = action<'stop', object>({
  kind: 'stop',
  name: 'Stop here',
  needs: 'any',
  args: {},
  blank: {},
  words: () => 'stop there',
})
