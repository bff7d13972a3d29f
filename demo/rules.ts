import type { RuleDefinition, Rung } from '#contract/rules.ts'
import { insertRule } from '#server/areas/rules/service.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { Scene } from './scene.ts'

/** Rules: on late work, one that climbs a ladder and one that is switched off; on what happens. */

const after = (days: number, time = '09:00'): Rung['delay'] => ({ days, unit: 'working', time })

const CONDITIONS: RuleDefinition['conditions'] = {
  match: 'all',
  of: [
    { field: 'kind', op: 'not-in', value: ['in-review'] },
    {
      match: 'any',
      of: [
        { field: 'priority', op: 'in', value: ['high', 'urgent'] },
        { field: 'client.tier', op: 'in', value: ['gold', 'silver'] },
      ],
    },
  ],
}

const ladder = (team: number, manager: number): RuleDefinition => ({
  trigger: { kind: 'late' },
  conditions: CONDITIONS,
  rungs: [
    {
      key: 'r1',
      delay: after(1),
      actions: [
        {
          kind: 'remind',
          who: { is: 'assignees' },
          daily: true,
          text: '{task} for {client} is {days late} late',
        },
      ],
    },
    {
      key: 'r2',
      delay: after(3),
      actions: [
        {
          kind: 'tell',
          who: { is: 'lead' },
          mail: true,
          text: '{task} for {client} is {days late} late',
        },
      ],
    },
    {
      key: 'r3',
      delay: after(5),
      actions: [
        { kind: 'assign', who: { is: 'team', id: team } },
        { kind: 'set-priority', to: 'urgent' },
      ],
    },
    {
      key: 'r4',
      delay: after(7),
      actions: [
        {
          kind: 'tell',
          who: { is: 'person', id: manager },
          mail: true,
          text: '{task} for {client} has slipped {days late}',
        },
        {
          kind: 'make-task',
          title: 'Call the practice manager about {task}',
          who: { is: 'person', id: manager },
        },
      ],
    },
  ],
})

const GENTLE: RuleDefinition = {
  trigger: { kind: 'late' },
  conditions: { match: 'all', of: [{ field: 'client.tier', op: 'in', value: ['bronze'] }] },
  rungs: [
    {
      key: 'r1',
      delay: after(2, '10:00'),
      actions: [
        {
          kind: 'remind',
          who: { is: 'assignees' },
          daily: false,
          text: '{task} for {client} was due {due: d MMMM}',
        },
      ],
    },
  ],
}

/** Reacts to what happens: whoever leads hears at once that a gold client's work waits. */
const WAITING: RuleDefinition = {
  trigger: { kind: 'changed', field: 'kind', to: ['waiting'] },
  conditions: { match: 'all', of: [{ field: 'client.tier', op: 'in', value: ['gold'] }] },
  actions: [
    { kind: 'tell', who: { is: 'lead' }, mail: false, text: '{task} for {client} is waiting now' },
  ],
}

const ALL: RuleDefinition['conditions'] = { match: 'all', of: [] }
/** What becomes urgent and is nobody's goes to whoever of the desk has least to do. */
const urgent = (team: number): RuleDefinition => ({
  trigger: { kind: 'becomes-true' },
  conditions: {
    match: 'all',
    of: [
      { field: 'priority', op: 'in', value: ['urgent'] },
      { field: 'assignee', op: 'empty' },
    ],
  },
  actions: [
    { kind: 'assign', who: { is: 'team', id: team } },
    {
      ...{ kind: 'branch', conditions: PROJECT },
      actions: [
        { kind: 'tell', who: { is: 'lead' }, mail: false, text: '{task} is urgent, with {people}' },
      ],
      otherwise: [],
    },
  ],
})
const PROJECT: RuleDefinition['conditions'] = {
  match: 'all',
  of: [{ field: 'project', op: 'filled' }],
}
const CLOSES: RuleDefinition = {
  trigger: { kind: 'work-done' },
  conditions: ALL,
  actions: [{ kind: 'finish-project' }],
}
const FOLLOWERS: RuleDefinition = {
  trigger: { kind: 'changed', field: 'kind', from: [], to: ['done'] },
  conditions: { match: 'all', of: [{ field: 'follower', op: 'filled' }] },
  actions: [
    { kind: 'tell', who: { is: 'followers' }, mail: false, text: '{task} for {client} is done' },
  ],
}

export function makeRules({ engine, who, team }: Scene, write: Writer): void {
  const definition = ladder(team('Accounts'), who('Imogen'))
  const late = { name: 'Late client records', ownerId: who('Imogen'), definition }
  insertRule(engine, write, late, true)
  const gentle = { name: 'Bronze clients, gently', ownerId: who('Runa'), definition: GENTLE }
  insertRule(engine, write, gentle, false)
  const waiting = { name: 'Gold clients kept waiting', ownerId: who('Runa'), definition: WAITING }
  insertRule(engine, write, waiting, true)
  for (const [name, rule, on] of [
    ['Urgent work finds an owner', urgent(team('Clinic desk')), true],
    ['A project closes with its last task', CLOSES, true],
    // Followers have notices of their own; this one is for a firm that wants it louder.
    ['Followers hear when a task is done', FOLLOWERS, false],
  ] as const)
    insertRule(engine, write, { name, ownerId: who('Imogen'), definition: rule }, on)
}
