import { action } from './action.ts'

/** A phase is finished when all its work is: what of it is open is done then. */
export const finishPhase = action<'finish-phase', object>({
  kind: 'finish-phase',
  name: 'Finish its phase',
  args: {},
  blank: {},
  changes: () => [{ place: 'task.changed:kind', to: 'done' }, { place: 'task.changed:closed' }],
  words: () => 'finish all that is open in its phase',
})
