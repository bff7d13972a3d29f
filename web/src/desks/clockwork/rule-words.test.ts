import { expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import type { Known } from '#web/fields/known.ts'
import { sayRule } from './rule-words.ts'

const known: Known = {
  directory: {
    people: [{ id: 1, name: 'Imogen', active: true, title: '', access: 'manager' }],
    teams: [{ id: 2, name: 'Accounts', people: [] }],
    ...{ clients: [], projects: [], templates: [], states: [], tags: [], fields: [] },
  } as unknown as Known['directory'],
  ...{ projects: [], phases: [], today: '2026-11-24', zone: 'Europe/London' },
  ...{ scope: { of: 'firm' }, member: true },
}
const ALL = { match: 'all', of: [] } as const
const said = (definition: Omit<RuleDefinition, 'conditions'>) =>
  sayRule(known, { conditions: ALL, ...definition })

it('a ladder is told rung by rung', () =>
  expect(
    said({
      trigger: { kind: 'late' },
      rungs: [
        {
          ...{ key: 'a', delay: { days: 1, unit: 'working', time: '09:00' } },
          actions: [{ kind: 'remind', who: { is: 'assignees' }, daily: true, text: 'x' }],
        },
        {
          ...{ key: 'b', delay: { hours: 30 } },
          actions: [
            { kind: 'assign', who: { is: 'team', id: 2 } },
            { kind: 'set-priority', to: 'urgent' },
          ],
        },
      ],
    }),
  ).toBe(
    'When a task is late: after 1 working day remind whoever is on it every working day; ' +
      'after 30 hours assign it to the least loaded in Accounts, then make it urgent.',
  ))
it.each<[RuleDefinition['trigger'], string]>([
  [{ kind: 'made' }, 'When a task is made: tell Imogen, by e-mail too.'],
  [{ kind: 'commented' }, 'When somebody comments on a task: tell Imogen, by e-mail too.'],
  [
    { kind: 'changed', field: 'kind', to: ['waiting', 'in-review'] },
    'When kind of state of a task becomes Waiting or In review: tell Imogen, by e-mail too.',
  ],
  [
    { kind: 'changed', field: 'field:9', to: [] },
    'When a field that is gone of a task changes: tell Imogen, by e-mail too.',
  ],
])('%j is told by its words', (trigger, sentence) => {
  const who = { is: 'person', id: 1 } as const
  expect(said({ trigger, actions: [{ kind: 'tell', who, mail: true, text: 'x' }] })).toBe(sentence)
})
it.each<[Group, string]>([
  [{ match: 'all', of: [{ field: 'due', op: 'empty' }] }, 'due is not set'],
  [
    {
      match: 'all',
      of: [
        { field: 'priority', op: 'in', value: ['high', 'urgent'] },
        { field: 'late', op: 'is', value: false },
        { match: 'any', of: [] },
        {
          match: 'any',
          of: [
            { field: 'assignee', op: 'in', value: [1] },
            { field: 'due', op: 'before', value: { days: -3, working: true } },
          ],
        },
      ],
    },
    'priority is High or Urgent and not late and ' +
      '(on it is Imogen or due is before 3 working days ago)',
  ],
  [
    { match: 'none', of: [{ field: 'estimate', op: 'at-least', value: 60 }] },
    'not (estimate is at least 1h)',
  ],
  [{ match: 'all', of: [{ field: 'field:9', op: 'filled' }] }, 'a field that is gone is asked'],
])('what %j asks is said in words', (conditions, words) => {
  const actions = [{ kind: 'assign', who: { is: 'lead' } }] as const
  expect(sayRule(known, { trigger: { kind: 'made' }, conditions, actions })).toBe(
    `When a task is made, provided ${words}: assign it to the project’s lead.`,
  )
  const becoming = { trigger: { kind: 'becomes-true' }, conditions, actions } as const
  expect(sayRule(known, becoming)).toBe(
    `When it becomes true of a task that ${words}: assign it to the project’s lead.`,
  )
  const branch = { kind: 'branch', conditions, actions, otherwise: [] } as const
  expect(said({ trigger: { kind: 'made' }, actions: [branch] })).toBe(
    `When a task is made: where ${words}, assign it to the project’s lead.`,
  )
})
it('a task that is made is told by its title', () => {
  const who = { is: 'owner' } as const
  const actions = [{ kind: 'make-task', title: 'Call', who }] as const
  expect(said({ trigger: { kind: 'made' }, actions })).toBe(
    'When a task is made: make the task “Call” for the rule’s owner.',
  )
})
