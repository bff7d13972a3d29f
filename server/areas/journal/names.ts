import { inArray, sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import { within, type Reader } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { listed } from '../../database/sql.ts'
import {
  clientStates,
  clients,
  fields,
  people,
  phases,
  projects,
  rules,
  series,
  states,
  tags,
  tasks,
  teams,
  tokens,
} from '../../database/tables/index.ts'
import type { CustomField } from '#contract/fields.ts'
import { fieldColumns } from '../fields/queries.ts'

/** What the journal's entries speak of by number, in the words people know it by. */

type NamedTable = SQLiteTable & { readonly id: SQLWrapper }
const naming = (table: NamedTable, name: SQLWrapper, sees: (sight: Sight) => SQL = () => sql`1`) =>
  within((orm, a: { ids: string; sight: Sight }) =>
    orm
      .select({ id: sql<number>`${table.id}`, name: sql<string>`${name}` })
      .from(table)
      .where(sql`${table.id} in ${listed(a.ids)} and ${sees(a.sight)}`),
  )
const QUESTIONS = {
  people: naming(people, people.name),
  tags: naming(tags, tags.name),
  states: naming(states, states.name),
  clientStates: naming(clientStates, clientStates.name),
  phases: naming(phases, phases.name, (sight) => seesProject(sight, phases.projectId)),
  projects: naming(projects, projects.name, (sight) => seesProject(sight, projects.id)),
  clients: naming(clients, clients.name),
  rules: naming(rules, rules.name),
  series: naming(series, series.name),
  tasks: naming(tasks, tasks.title, (sight) => seesTask(sight, tasks.id)),
  tokens: naming(tokens, tokens.name),
  teams: naming(teams, teams.name, ({ all }) => sql`${all}`),
}
export type Named = keyof typeof QUESTIONS

const fieldsIn = within((orm, a: { ids: string }) =>
  orm
    .select(fieldColumns)
    .from(fields)
    .where(inArray(fields.id, listed(a.ids))),
)

/** Numbers by the kind of thing they are of. */
export type Mentions = ReadonlyMap<Named | 'fields', ReadonlySet<number>>

/** Looked-up names, of what the viewer sees: one question for each kind of thing. */
export interface Names {
  of(kind: Named, id: unknown): string | undefined
  field(id: unknown): CustomField | undefined
}

export function namesOf(reader: Reader, sight: Sight, mentions: Mentions): Names {
  const ids = (kind: Named | 'fields') => JSON.stringify([...(mentions.get(kind) ?? [])])
  const known = new Map<string, string>()
  for (const [kind, wanted] of mentions)
    if (kind !== 'fields' && wanted.size)
      for (const { id, name } of QUESTIONS[kind].all(reader, { ids: ids(kind), sight }))
        known.set(`${kind} ${id}`, name)
  const fieldRows = new Map(
    mentions.get('fields')?.size
      ? fieldsIn.all(reader, { ids: ids('fields') }).map((field) => [Number(field.id), field])
      : [],
  )
  return {
    of: (kind, id) => known.get(`${kind} ${String(id)}`),
    field: (id) => fieldRows.get(Number(id)),
  }
}
