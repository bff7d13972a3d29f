import type { Field } from '../fields/field.ts'
import { FIELD_TYPES } from '../fields/types.ts'
import { plural } from '../text/speak.ts'
import { isGroup, type Condition, type Test } from './condition.ts'

/** Conditions in words. */

type Asked = Pick<Field<'task'>, 'label' | 'type'>
type SayValue = (value: string | number) => string

function sayShift({ days, working }: { days: number; working?: boolean }): string {
  if (days === 0) return 'that day'
  const many = plural(Math.abs(days), working ? 'working day' : 'day')
  return `${many} ${days < 0 ? 'ago' : 'ahead'}`
}
/** What a test compares with; `say` tells each value as people read it. */
function sayOperand({ value }: Test, say: SayValue): string {
  if (value === undefined || typeof value === 'boolean') return ''
  if (typeof value === 'object' && 'period' in value)
    return `${['last', 'this', 'next'][value.shift + 1] ?? `${value.shift} on`} ${value.period}`
  if (typeof value === 'object' && 'days' in value) return sayShift(value)
  return [value]
    .flat()
    .map((each) => say(each))
    .join(' or ')
}
/** A field within a sentence: “client’s tier”, “state before”. */
const within = (label: string): string =>
  label
    .toLowerCase()
    .replace(/^before: (.*)$/, '$1 before')
    .replace(/^(\w+): /, '$1’s ')
/** A test in words: “priority is High or Urgent”; of yes and no, “open” or “not open”. */
export function sayTest({ label, type }: Asked, test: Test, say: SayValue): string {
  const name = within(label)
  if (typeof test.value === 'boolean') return test.value ? name : `not ${name}`
  const op = FIELD_TYPES[type].ops.find((each) => each.op === test.op)?.name ?? test.op
  return [name, op, sayOperand(test, say)].filter(Boolean).join(' ')
}

const BETWEEN = { all: ' and ', any: ' or ', none: ' or ' } as const
/** A condition in words, its groups in brackets where they stand in another; `say` tells a test. */
export function sayCondition(
  condition: Condition,
  say: (test: Test) => string,
  inside = false,
): string {
  if (!isGroup(condition)) return say(condition)
  const { match, of } = condition
  const all = of
    .map((each) => sayCondition(each, say, true))
    .filter(Boolean)
    .join(BETWEEN[match])
  if (match === 'none' && all) return `not (${all})`
  return inside && of.length > 1 ? `(${all})` : all
}
