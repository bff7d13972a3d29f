import type { StateRow } from '#contract/fields.ts'
import type { State } from '#contract/words.ts'
import type { Database } from '../../database/open.ts'

/** The firm's own set: always there. */
export const FIRM_SET = 1

const SELECT = 'select id, setId, name, kind, colour, only from states'

export const statesOf = (db: Database, setId: number): StateRow[] =>
  db.prepare(`${SELECT} where setId = ? order by position, id`).all(setId) as StateRow[]

export const stateRow = (db: Database, id: number): StateRow | undefined =>
  db.prepare(`${SELECT} where id = ?`).get(id) as StateRow | undefined

/** The set that tasks of a project use; the firm's own for none. */
export function setOf(db: Database, projectId: number | null | undefined): number {
  if (!projectId) return FIRM_SET
  return (
    (
      db.prepare('select stateSetId from projects where id = ?').get(projectId) as
        { stateSetId: number | null } | undefined
    )?.stateSetId ?? FIRM_SET
  )
}

/** The first state of a kind in a set, or undefined where the set has none. */
export const firstOfKind = (db: Database, setId: number, kind: State): StateRow | undefined =>
  db
    .prepare(`${SELECT} where setId = ? and kind = ? order by position, id limit 1`)
    .get(setId, kind) as StateRow | undefined
