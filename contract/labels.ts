/** What the parts of what is sent are called on the screen, by their names. */
export const LABELS: Readonly<Record<string, string>> = {
  // A task.
  ...{ title: 'Title', description: 'Description', due: 'Due', dueTime: 'Due time' },
  ...{ start: 'Start', estimate: 'Estimate', estimates: 'Parts', assignees: 'On it' },
  ...{ followers: 'Follower', tags: 'Tag', state: 'Kind of state', stateId: 'State' },
  ...{ priority: 'Priority', phaseId: 'Phase', parentId: 'Subtask of number', doneBy: 'Done when' },
  ...{ fields: 'Own fields', body: 'Comment', text: 'Text', done: 'Ticked', archived: 'Archived' },
  ...{
    ids: 'Marked tasks',
    'shift.days': 'Working days to move by',
    days: 'Days',
    set: 'What is set',
  },
  ...{ after: 'Place', words: 'What is looked for', reviewed: 'Reviewed' },
  // A project, a view, a field, a state.
  ...{ name: 'Name', clientId: 'Client', leadId: 'Lead', projectId: 'Project', anchor: 'Date' },
  ...{ phases: 'Phases', milestones: 'Milestones', date: 'Date', ownerId: 'Owner' },
  ...{ health: 'Standing', reason: 'Reason', colour: 'Colour', kind: 'Kind', choices: 'Choices' },
  ...{ currency: 'Currency', options: 'Options', states: 'States', moveTo: 'Tasks go to' },
  ...{ shared: 'Everybody may open it', on: 'On', filter: 'Filter', match: 'How many must hold' },
  ...{ field: 'Field', op: 'How', value: 'Value', sort: 'Order', group: 'Groups', of: 'Tests' },
  ...{ columns: 'Columns', width: 'Width', step: 'Scale', url: 'Address of the link' },
  // Clockwork.
  ...{ roles: 'Roles', role: 'Role', tasks: 'Tasks', offset: 'Days', effort: 'Effort' },
  reminders: 'Reminders',
  ...{ checklist: 'Checklist', condition: 'Only if', key: 'Key', template: 'Template' },
  ...{ templateId: 'Template', makes: 'What is made', schedule: 'When', leadDays: 'Lead' },
  ...{ ways: 'How it goes about it', overlap: 'While the one before is open' },
  ...{ catchUp: 'What is made up for', makeTime: 'Made at' },
  ...{ rota: 'Who gets it', carries: 'Taken from the one before' },
  ...{ wait: 'So long after', dates: 'Dates' },
  ...{ deed: 'What is done' },
  ...{ rule: 'Repeats', time: 'Time', until: 'Until', count: 'Times', every: 'Every' },
  ...{ roll: 'On a day off', rungs: 'Rungs', actions: 'Steps', when: 'When', clock: 'Counted in' },
  ...{ from: 'From', to: 'To', unit: 'Unit', amount: 'How many', person: 'Person' },
  // A firm.
  ...{ country: 'Country', region: 'Region', zone: 'Time zone', hours: 'Working hours' },
  ...{ MO: 'Monday', TU: 'Tuesday', WE: 'Wednesday', TH: 'Thursday', FR: 'Friday' },
  ...{ SA: 'Saturday', SU: 'Sunday' },
  // Somebody.
  ...{
    email: 'E-mail address',
    password: 'Password',
    now: 'Password now',
    who: 'Who',
    id: 'Number',
  },
}

/** What lies in a list, one of it. */
const ONES: Readonly<Record<string, string>> = {
  ...{ phases: 'phase', tasks: 'task', rungs: 'rung', actions: 'step', milestones: 'milestone' },
  ...{
    states: 'state',
    choices: 'choice',
    checklist: 'item',
    reminders: 'reminder',
    of: 'test',
    columns: 'column',
  },
  ...{ roles: 'role', sort: 'order', ids: 'task', tags: 'tag', assignees: 'person' },
}

/**
 * What a place in what was sent is called on the screen: the field, and in which of several it
 * stands: “Title (phase 2, task 1)”.
 */
export function labelAt(path: readonly (string | number)[]): string {
  const names = path.filter((part) => typeof part === 'string')
  const last = names.at(-1)
  const own =
    last === undefined
      ? 'What was sent'
      : (LABELS[names.slice(-2).join('.')] ?? LABELS[last] ?? last)
  const within = path.flatMap((part, i) => {
    const of = path[i - 1]
    return typeof part === 'number' && typeof of === 'string'
      ? [`${ONES[of] ?? 'number'} ${part + 1}`]
      : []
  })
  return within.length ? `${own} (${within.join(', ')})` : own
}
