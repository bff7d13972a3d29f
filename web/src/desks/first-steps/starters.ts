import type { Template, TemplateTask } from '#core/templates/template.ts'

/** A task of a starter: its role, minutes of effort, and on which working day it is due. */
const task = (
  key: string,
  title: string,
  [role, effort, days]: readonly [role: string, effort: number, days: number],
  checklist: readonly string[] = [],
): TemplateTask => ({
  ...{ key, title, role, effort, due: { days } },
  ...(checklist.length > 0 && { checklist }),
})

/** Templates to begin with where a firm has none of its own: plain ones, to be changed. */
export const STARTERS: readonly (Template & { readonly about: string })[] = [
  {
    name: 'New client',
    about: 'From the signed letter to the first piece of work, counted from the day they begin.',
    anchor: 'start',
    roles: [
      { key: 'lead', name: 'Lead' },
      { key: 'office', name: 'Office' },
    ],
    phases: [
      {
        key: 'agree',
        name: 'Agree',
        tasks: [
          task('letter', 'File the signed letter', ['office', 15, 0]),
          task('call', 'Welcome call', ['lead', 30, 1], ['Who decides', 'Who sends papers']),
          task('ask', 'Ask for what we need', ['office', 30, 2]),
        ],
      },
      {
        key: 'set-up',
        name: 'Set up',
        tasks: [
          task('access', 'Get access to their systems', ['office', 45, 5]),
          task('plan', 'Agree dates for the year', ['lead', 60, 7]),
          task('first', 'Plan the first piece of work', ['lead', 45, 10]),
        ],
      },
    ],
  },
  {
    name: 'Month-end',
    about: 'What is done for a client every month, counted back from the day it must be there.',
    anchor: 'deadline',
    roles: [
      { key: 'doer', name: 'Doer' },
      { key: 'reviewer', name: 'Reviewer' },
    ],
    phases: [
      {
        key: 'gather',
        name: 'Gather',
        tasks: [
          task('ask', 'Ask for this month’s papers', ['doer', 20, -8]),
          task('chase', 'Chase what is missing', ['doer', 30, -6]),
        ],
      },
      {
        key: 'work',
        name: 'Work',
        tasks: [
          task('enter', 'Enter and check', ['doer', 180, -4], ['Bank', 'Sales', 'Purchases']),
          task('review', 'Review', ['reviewer', 60, -2]),
        ],
      },
      {
        key: 'deliver',
        name: 'Deliver',
        tasks: [
          task('send', 'Send it with a note', ['doer', 30, 0]),
          task('file', 'File the working papers', ['doer', 20, 1]),
        ],
      },
    ],
  },
  {
    name: 'Quarterly meeting',
    about: 'A meeting with a client, prepared, held and followed up.',
    anchor: 'start',
    roles: [{ key: 'lead', name: 'Lead' }],
    phases: [
      {
        key: 'prepare',
        name: 'Prepare',
        tasks: [
          task('date', 'Agree the date and who comes', ['lead', 20, -10]),
          task('figures', 'Put the figures together', ['lead', 90, -3]),
          task('agenda', 'Send the agenda', ['lead', 30, -2]),
        ],
      },
      {
        key: 'hold',
        name: 'Hold it',
        tasks: [
          task('meet', 'Meet', ['lead', 60, 0]),
          task('notes', 'Send what was agreed', ['lead', 30, 1]),
        ],
      },
    ],
  },
]
