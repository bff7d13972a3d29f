import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import type { Action, Deed, RuleDefinition } from '#contract/rules.ts'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { makeProject } from '../projects/service.ts'
import { makeTask } from '../tasks/service.ts'
import { fillText, tryRule } from './try.ts'

const HIGH: Group = { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high'] }] }
const ALL: Group = { match: 'all', of: [] }
const rule = (l: Lab, deeds: readonly Deed[], more: Partial<RuleDefinition> = {}) => ({
  ...{ name: 'R', ownerId: l.imogen.id },
  definition: { trigger: { kind: 'made' as const }, conditions: ALL, actions: deeds, ...more },
})
const tell = (l: Lab): Action => ({
  ...{ kind: 'tell', mail: true, text: '{task} for {client}, {project}' },
  who: { is: 'person', id: l.devika.id },
})
const task = (l: Lab, more: object = {}) =>
  makeTask(l.engine, l.tobias, { title: 'Post', clientId: l.client, ...more }).result.id

describe('a rule tried on one item', () => {
  it('tells what it would do, to whom, and what it asks; nothing is changed', () => {
    const l = lab()
    const item = task(l)
    l.runner.tick()
    const all = () =>
      ['tasks', 'journal', 'runs', 'notices', 'outbox', 'alarms', 'waits', 'turns'].map((table) =>
        l.rows(`select * from ${table}`),
      )
    const before = all()
    const deeds: Deed[] = [
      { kind: 'set-priority', to: 'high' },
      { kind: 'branch', conditions: HIGH, actions: [tell(l)], otherwise: [] },
      { kind: 'assign', who: { is: 'team-turn', id: l.team } },
      { kind: 'wait', amount: 1, unit: 'working' },
      { kind: 'add-step', title: 'Later' },
    ]
    const conditions: Group = { match: 'any', of: [...HIGH.of, { field: 'assignee', op: 'empty' }] }
    expect(tryRule(l.engine, l.imogen, { ...rule(l, deeds, { conditions }), item })).toEqual({
      ...{ reaches: true, rests: false, holds: true },
      tests: [
        { said: 'priority is High: it was Normal', held: false },
        { said: 'on it is nobody: it was none', held: true },
      ],
      parts: [
        {
          ...{ name: '', failed: null },
          did: [
            ...['Set priority high', 'Told Devika', 'Assigned Tobias'],
            'Waits until Tue 24 Nov, 09:00',
            'Added “Later” to its checklist',
          ],
          left: [
            'Step 2: Held: priority is High: it was High',
            'Tobias is next in turn, the first of them',
            '{project} was empty here',
          ],
          says: [{ to: 'Devika', text: 'Post for Mossgate, ', mail: true }],
        },
      ],
    })
    expect(all()).toEqual(before)
    // What is done next takes up where things stood.
    expect(task(l)).toBe(2)
  })
  it('tries each rung of a ladder by itself, and a rule about a project on one', () => {
    const l = lab()
    const item = task(l, { due: '2026-11-20', assignees: [l.tobias.id] })
    const ladder = { ...LADDER({ team: l.team, boss: l.imogen.id }) }
    const trial = tryRule(l.engine, l.imogen, { ...rule(l, []), definition: ladder, item })
    expect(trial.parts.map(({ name, did }) => [name, did[0]])).toEqual([
      ['Rung 1', 'Reminded Tobias'],
      ['Rung 2', 'Told Imogen'],
      ['Rung 3', 'Assigned Devika'],
    ])
    const { id } = makeProject(l.engine, l.imogen, { name: 'Books', clientId: null }).result
    const finish = rule(l, [{ kind: 'finish-project' }], {
      trigger: { kind: 'project-changed', field: 'project.state', from: [], to: [] },
    })
    const of = tryRule(l.engine, l.imogen, { ...finish, item: id })
    expect(of.parts[0]!.did).toEqual(['Finished Books'])
    expect(l.rows('select closedAt from projects')).toEqual([{ closedAt: null }])
  })
  it('says where it does not act, and refuses what could not be saved or is not there', () => {
    const l = lab()
    const item = task(l)
    const other = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result.id
    const scope = { of: 'project', id: other } as const
    expect(tryRule(l.engine, l.imogen, { ...rule(l, [tell(l)], { scope }), item }).reaches).toBe(
      false,
    )
    expect(() => tryRule(l.engine, l.imogen, { ...rule(l, [tell(l)]), item: 99 })).toThrow(
      /no task 99/,
    )
    expect(() => tryRule(l.engine, l.tobias, { ...rule(l, [tell(l)]), item })).toThrow()
    const wrong: Action = { kind: 'set-field', field: 'priority', value: 'huge' }
    expect(() => tryRule(l.engine, l.imogen, { ...rule(l, [wrong]), item })).toThrow(
      /takes one of its choices/,
    )
  })
})

it('fills a text in for something real, says what is empty there, and only for managers', () => {
  const l = lab()
  const item = task(l)
  const of = { about: 'task', item, text: '{task} for {client}, {project} {lead}' } as const
  expect(fillText(l.engine, l.imogen, of)).toEqual({
    ...{ title: 'Post', text: 'Post for Mossgate,  ' },
    empty: ['project', 'lead'],
  })
  const client = { about: 'client', item: l.client, text: '{client} on {today}' } as const
  expect(fillText(l.engine, l.imogen, client).text).toBe('Mossgate on 23 November 2026')
  expect(() => fillText(l.engine, l.imogen, { ...of, item: 999 })).toThrow('There is no task 999.')
  expect(() => fillText(l.engine, l.tobias, of)).toThrow(/manager/)
})
