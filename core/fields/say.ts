import { inUnits, sayMoney } from '../money/money.ts'
import { plainText } from '../text/rich.ts'
import { sayDate, sayMinutes, sayTime } from '../text/speak.ts'
import { toLocal } from '../calendar/dates.ts'
import type { Items, Kind } from './facts.ts'
import type { Field, Today } from './field.ts'
import { isRef, type FieldType, type Single, type Value } from './types.ts'

/** Values in words. */

export interface Saying extends Today {
  readonly zone: string
  /** Hours by 24 where nothing is said. */
  readonly clock?: 12 | 24
}
/** What of a field its words depend on. */
type Peculiar = Pick<Field, 'type'> & {
  readonly choices?: Field['choices'] | undefined
  readonly currency?: string | undefined
}

/** A moment as it is said: "10:42" today, "Wed 18 Nov, 10:42". */
export function sayMoment(at: number, { today, zone, clock }: Saying): string {
  const { date, time } = toLocal(at, zone)
  const said = sayTime(time.slice(0, 5), clock)
  return date === today ? said : `${sayDate(date, today)}, ${said}`
}

const SAY: Readonly<
  Partial<Record<FieldType, (value: Single, field: Peculiar, at: Saying) => string>>
> = {
  rich: (value) => plainText(String(value)),
  minutes: (value) => sayMinutes(Number(value)),
  money: (value, { currency = 'GBP' }) => sayMoney(Number(value), currency),
  date: (value, _, { today }) => sayDate(String(value), today),
  moment: (value, _, at) => sayMoment(Number(value), at),
  'yes-no': (value) => (value === true || value === 1 ? 'Yes' : 'No'),
  choice: (value, { choices }) =>
    choices?.find((choice) => choice.value === value)?.name ?? String(value),
}

/** A value of a field in words; nothing for nothing. */
export function sayValue(field: Peculiar, value: Value, at: Saying): string {
  if (value === null || value === '') return ''
  if (Array.isArray(value))
    return (value as readonly Single[]).map((each) => sayValue(field, each, at)).join(', ')
  const one = value as Single
  if (isRef(one)) return one.name
  return SAY[field.type]?.(one, field, at) ?? String(one)
}

/** What a field says of an item: in lists, what goes without saying is left out. */
export function sayOf<K extends Kind>(
  field: Field<K>,
  item: Items[K],
  at: Saying,
  brief = false,
): string {
  if (brief && field.usual?.(item)) return ''
  if (field.say) return field.say(item)
  const words = sayValue(field, field.read(item, at), at)
  const at24 = words && field.time?.read(item)
  if (!at24) return words
  const time = sayTime(at24, at.clock)
  return brief && field.read(item, at) === at.today ? time : `${words}, ${time}`
}

/** An amount as it stands in a box where it is typed. */
export const inBox = (field: Peculiar, value: Value): string => {
  if (value === null || Array.isArray(value)) return ''
  if (isRef(value)) return value.name
  return String(field.type === 'money' ? inUnits(Number(value), field.currency ?? 'GBP') : value)
}
