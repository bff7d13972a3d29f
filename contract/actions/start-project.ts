import { plural } from '#core/text/speak.ts'
import { action } from './action.ts'

/** A project of a template's newest version, for the same client and lead; its date is so far on. */
export const startProject = action<
  'start-project',
  { readonly template: number; readonly name: string; readonly days: number }
>({
  kind: 'start-project',
  name: 'Start a project',
  needs: 'any',
  args: {
    template: { type: 'one', label: 'Which template', path: 'template' },
    name: { type: 'text', label: 'Name of the project', most: 160 },
    days: { type: 'number', label: 'Its date, working days on', least: 0, most: 365 },
  },
  blank: { template: 1, name: '{client}', days: 20 },
  changes: () => [{ place: 'project.made' }, { place: 'task.made' }],
  words: ({ template, name, days }, say) =>
    `start “${name}” of ${say.values('template', [template])}, ` +
    `dated ${plural(days, 'working day')} on`,
})
