import { action } from './action.ts'

/** The next of a series that goes by events; what that is, the series says; for whom, it or the event. */
export const bringNext = action<'bring-next', { readonly series: number }>({
  kind: 'bring-next',
  name: 'Make the next of a series',
  needs: 'any',
  args: { series: { type: 'series', label: 'Which series' } },
  blank: { series: 1 },
  changes: () => [{ place: 'project.made' }, { place: 'task.made' }],
  words: ({ series }, say) => `make the next of ${say.values('series', [series])}`,
})
