import type { Action, RuleDefinition, Rung } from './rules.ts'

/** Rules that a new one may begin with: each as it stands would be taken. */

const ALL = { match: 'all', of: [] } as const
const remind = (daily: boolean): Action => ({
  ...{ kind: 'remind', who: { is: 'assignees' }, daily },
  text: '{task} for {client} is {days late} late',
})
const rung = (days: number, ...actions: Action[]): Rung => ({
  ...{ key: `day-${days}`, delay: { days, unit: 'working', time: '09:00' } },
  actions,
})

export interface RuleExample {
  readonly name: string
  readonly definition: RuleDefinition
}
export const RULE_EXAMPLES: readonly RuleExample[] = [
  {
    name: 'Late work climbs a ladder',
    definition: {
      ...{ trigger: { kind: 'late' }, conditions: ALL },
      rungs: [
        rung(1, remind(true)),
        rung(3, {
          ...{ kind: 'tell', who: { is: 'lead' }, mail: true },
          text: '{task} for {client} is {days late} late',
        }),
        rung(
          5,
          { kind: 'set-priority', to: 'urgent' },
          {
            ...{ kind: 'tell', who: { is: 'manager' }, mail: true },
            text: '{task} for {client} has slipped {days late}',
          },
        ),
      ],
    },
  },
  {
    name: 'Two days before it is due',
    definition: {
      trigger: {
        ...{ kind: 'dated', days: 2, unit: 'working', side: 'before', field: 'due' },
        time: '09:00',
      },
      conditions: ALL,
      actions: [
        {
          ...{ kind: 'remind', who: { is: 'assignees' }, daily: false },
          text: '{task} for {client} is due {due}',
        },
      ],
    },
  },
  {
    name: 'Urgent work finds an owner',
    definition: {
      trigger: { kind: 'made' },
      conditions: {
        match: 'all',
        of: [
          { field: 'priority', op: 'in', value: ['urgent'] },
          { field: 'assignee', op: 'empty' },
        ],
      },
      actions: [{ kind: 'assign', who: { is: 'lead' } }],
    },
  },
  {
    name: 'A task is done when its subtasks are',
    definition: {
      ...{ trigger: { kind: 'subtasks-done' }, conditions: ALL },
      actions: [{ kind: 'set-state', to: 'done' }],
    },
  },
  {
    name: 'A project finishes with its last task',
    definition: {
      ...{ trigger: { kind: 'work-done' }, conditions: ALL },
      actions: [{ kind: 'finish-project' }],
    },
  },
  {
    name: 'Whoever asked hears when it is done',
    definition: {
      trigger: { kind: 'changed', field: 'kind', to: ['done'] },
      conditions: ALL,
      actions: [
        { ...{ kind: 'tell', who: { is: 'creator' }, mail: false }, text: '{task} is done' },
      ],
    },
  },
]
