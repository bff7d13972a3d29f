import { expect, it } from 'vitest'
import { RULE_EXAMPLES } from '#contract/rule-examples.ts'
import { ruleBody } from '#contract/rules.ts'
import { lab } from '../../test/lab.ts'
import { makeRule, switchRule } from './service.ts'

it.each(RULE_EXAMPLES)(
  '“$name” would be taken as it stands, and says nothing against itself',
  (example) => {
    const l = lab()
    const body = { ...example, ownerId: l.imogen.id }
    expect(ruleBody.validate(body, { convert: false }).error).toBeUndefined()
    const { id, warnings, faults } = makeRule(l.engine, l.imogen, body).result
    expect(faults).toEqual([])
    // A task that is done by its subtasks may be one itself: that ring ends at the top.
    const rings = example.definition.trigger.kind === 'subtasks-done'
    if (!rings) expect(warnings).toEqual([])
    expect(switchRule(l.engine, l.imogen, id, { on: true }).result.on).toBe(true)
  },
)
