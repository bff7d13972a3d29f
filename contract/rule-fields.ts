import { fieldNamed } from '#core/fields/catalogue.ts'
import { isSettable, isTold, type Field } from '#core/fields/field.ts'
import { isMany, type FieldType } from '#core/fields/types.ts'
import type { About, FieldsOf } from './actions/action.ts'
import { customId } from './fields.ts'

/** Which fields rules choose from, for what they do and for what they ask. */

/** Types that are set as a whole by an action of their own, or by nobody but a person. */
const NOT_SET: ReadonlySet<FieldType> = new Set<FieldType>(['rich', 'item', 'moment', 'words'])
/** A field of a place that changes are told of: `project.health`, `client.field:3`. */
function isToldOf(path: string, of: 'project' | 'client'): boolean {
  const [place, name = '', ...rest] = path.split('.')
  if (place !== of || rest.length > 0) return false
  const stored = fieldNamed(of, name)?.stored ?? null
  return customId(name) !== null || stored !== null
}
type Offers = (field: Field<'task'>) => boolean
const isDate: Offers = ({ type }) => type === 'date'
const OFFERS: Readonly<Record<FieldsOf, Offers>> = {
  told: isTold,
  project: ({ name }) => isToldOf(name, 'project'),
  client: ({ name }) => isToldOf(name, 'client'),
  dated: (field) => isDate(field) && isTold(field),
  dates: (field) => isDate(field) && isSettable(field) && field.key !== 'due',
  settable: (field) =>
    isSettable(field) &&
    !isMany(field.type) &&
    !NOT_SET.has(field.type) &&
    !OWN.has(field.key ?? ''),
}
/** Whether an argument of a step can name a field. */
export const isOffered = (field: Field<'task'>, of: FieldsOf): boolean => OFFERS[of](field)
/** Fields with an action of their own, and what a task is a part of. */
const OWN: ReadonlySet<string> = new Set(['state', 'parentId'])

/** Whether a rule about something can ask a field: of what is no task, only where it stands. */
export function asksOf(path: string, about: About): boolean {
  if (about === 'task') return true
  const [place = ''] = path.split('.')
  return about === 'project'
    ? place === 'project' || place === 'client' || place === 'template'
    : place === 'client'
}
