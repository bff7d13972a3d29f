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
  const found = of === 'project' ? fieldNamed(of, name) : fieldNamed(of, name)
  return customId(name) !== null || (found !== undefined && found.stored !== null)
}
/** Whether an argument of a step can name a field. */
export function isOffered(field: Field<'task'>, of: FieldsOf): boolean {
  const { name, type, key } = field
  switch (of) {
    case 'told':
      return isTold(field)
    case 'project':
    case 'client':
      return isToldOf(name, of)
    case 'dates':
      return type === 'date' && isSettable(field) && key !== 'due'
    case 'settable':
      return isSettable(field) && !isMany(type) && !NOT_SET.has(type) && !OWN.has(key ?? '')
  }
}
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
