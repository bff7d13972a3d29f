import type { ClientId } from '#core/brands.ts'
import { parseEdit } from '#core/fields/parse.ts'
import { inBox } from '#core/fields/say.ts'
import type { Choice } from '#core/fields/types.ts'
import type { ClientToBring } from '#contract/clients.ts'
import { customField, type CustomField } from '#contract/fields.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { listTags } from '../fields/queries.ts'
import { fieldsOn } from '../fields/values.ts'
import { everybody } from '../people/queries.ts'
import { everyState, everyTagging, everyValue } from './queries.ts'

/** What a firm says of clients in words of its own, as cells of a file: states, tags, fields. */

/** How the two columns are headed that every firm has. */
const STATE = 'State'
const TAGS = 'Tags'
type Own = Pick<ClientToBring, 'stateId' | 'tags' | 'fields'>

const choicesOf = (field: CustomField, people: readonly Choice[]): readonly Choice[] =>
  field.kind === 'person'
    ? people
    : (field.options.choices ?? []).map(({ key, name }) => ({ value: key, name }))
const peopleOf = ({ reader }: Engine): Choice[] =>
  everybody
    .all(reader)
    .filter(({ active }) => active)
    .map(({ id, name }) => ({ value: id, name }))

/**
 * Reads the firm's own words out of the cells of a client, by how their columns are headed; what is
 * not understood is left out, and noted.
 */
export function ownReader(
  engine: Engine,
  viewer: Viewer,
  notes: string[],
): (client: string, cell: (head: string) => string) => Own {
  const { reader, firm } = engine
  const states = new Map(everyState.all(reader).map(({ id, name }) => [name.toLowerCase(), id]))
  const tags = new Map(listTags(reader).map(({ id, name }) => [name.toLowerCase(), id]))
  const fields = fieldsOn(reader, viewer, 'client')
  const people = peopleOf(engine)
  const today = firm.today()
  return (client, cell) => {
    const known = (names: Map<string, number>, kind: string, words: string) => {
      const id = names.get(words.toLowerCase())
      if (id === undefined) notes.push(`There is no ${kind} “${words}”; ${client} goes without it.`)
      return id
    }
    const state = cell(STATE)
    const stateId = state ? known(states, 'state of clients', state) : undefined
    const named = cell(TAGS)
      .split(/[,;]/)
      .map((name) => name.trim())
      .filter(Boolean)
      .flatMap((name) => known(tags, 'tag', name) ?? [])
    const edits = fields.map((field) => {
      const reading = { today, choices: choicesOf(field, people) }
      try {
        const words = cell(field.name)
        return words ? parseEdit(customField(field), words, reading)['fields'] : {}
      } catch (error) {
        notes.push(`${client}, ${error instanceof Error ? error.message : ''}`)
        return {}
      }
    })
    const values: NonNullable<Own['fields']> = Object.assign({}, ...edits)
    return {
      ...(stateId !== undefined && { stateId }),
      ...(named.length && { tags: [...new Set(named)] }),
      ...(Object.keys(values).length && { fields: values }),
    }
  }
}

/** The heads of the firm's own columns, and the cells of a client under them. */
export function ownColumns(
  engine: Engine,
  viewer: Viewer,
): { heads: string[]; cells: (client: ClientId, stateId: number | null) => string[] } {
  const { reader } = engine
  const states = new Map(everyState.all(reader).map(({ id, name }) => [Number(id), name]))
  const fields = fieldsOn(reader, viewer, 'client')
  const people = new Map(everybody.all(reader).map(({ id, name }) => [Number(id), name]))
  const tags = new Map<number, string[]>()
  for (const { clientId, name } of everyTagging.all(reader))
    tags.set(clientId, [...(tags.get(clientId) ?? []), name])
  const values = new Map(
    everyValue.all(reader).map((row) => [`${row.clientId} ${row.fieldId}`, row.value]),
  )
  const said = (field: CustomField, value: string | number | undefined): string => {
    if (value === undefined) return ''
    if (field.kind === 'yes-no') return Number(value) === 1 ? 'yes' : 'no'
    if (field.kind === 'person') return people.get(Number(value)) ?? ''
    const choice = field.options.choices?.find(({ key }) => key === value)
    return choice?.name ?? inBox(customField(field), value)
  }
  return {
    heads: [STATE, TAGS, ...fields.map(({ name }) => name)],
    cells: (client, stateId) => [
      (stateId !== null && states.get(stateId)) || '',
      (tags.get(client) ?? []).join('; '),
      ...fields.map((field) => said(field, values.get(`${client} ${field.id}`))),
    ],
  }
}
