import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import type { Action, RuleDefinition, Trigger } from '#contract/rules.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { listRules, makeRule, ruleSheet, switchRule } from './service.ts'

const ALL: Group = { match: 'all', of: [] }
const on = (field: string, ...to: string[]): Trigger => ({ kind: 'changed', field, to })
function rule(
  l: Lab,
  name: string,
  trigger: Trigger,
  actions: Action[],
  more: Partial<RuleDefinition> = {},
) {
  const definition = { trigger, conditions: ALL, actions, ...more }
  const { id } = makeRule(l.engine, l.imogen, { name, ownerId: l.imogen.id, definition }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  return id
}
const warnings = (l: Lab, id: number) => ruleSheet(l.engine, l.imogen, id).warnings
const priority = (to: 'high' | 'low'): Action => ({ kind: 'set-priority', to })

describe('before a rule is switched on it is said', () => {
  it('that it sets itself off, or others in a ring', () => {
    const l = lab()
    const alone = rule(l, 'Alone', on('priority'), [priority('high')])
    expect(warnings(l, alone)).toEqual([
      'It sets itself off by what it does; it stops after eight times.',
    ])
    const m = lab()
    const one = rule(m, 'One', on('priority', 'high'), [{ kind: 'set-state', to: 'waiting' }])
    const two = rule(m, 'Two', on('kind', 'waiting'), [priority('high')])
    expect(warnings(m, one)).toEqual([
      'It and “Two” set each other off; they stop after eight times.',
    ])
    switchRule(m.engine, m.imogen, two, { on: false })
    expect(warnings(m, one)).toEqual([])
    // What would be, were it switched on.
    expect(warnings(m, two)).toHaveLength(1)
  })
  it('that another sets the same field to something else, when the same happens', () => {
    const l = lab()
    rule(l, 'Low', { kind: 'made' }, [priority('low')])
    const high = rule(l, 'High', { kind: 'made' }, [priority('high')])
    expect(warnings(l, high)).toEqual([
      '“Low” sets priority as well, to something else, when the same happens.',
    ])
  })
  it('that what it asks can never hold', () => {
    const l = lab()
    const conditions: Group = {
      match: 'all',
      of: [
        { field: 'priority', op: 'in', value: ['high'] },
        { match: 'all', of: [{ field: 'priority', op: 'in', value: ['low'] }] },
        // Tags are several: having two is no contradiction.
        { field: 'tag', op: 'in', value: [1] },
        { field: 'tag', op: 'in', value: [2] },
      ],
    }
    const id = rule(l, 'R', { kind: 'made' }, [{ kind: 'comment', text: 'x' }], { conditions })
    expect(warnings(l, id)).toEqual([
      'What it asks can never hold: priority is High, and priority is Low.',
    ])
    expect(listRules(l.engine, l.imogen)[0]!.warnings).toEqual(warnings(l, id))
  })
})
