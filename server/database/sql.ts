import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'

/** Pieces of SQL that the builder has no word for. */

/** A list as one parameter, whatever its length: one text for all lists. */
export const listed = (json: string | SQLWrapper): SQL =>
  sql`(select "value" from json_each(${json}))`

/** JSON that SQLite made, read; null stays null. */
export const parsed = <T>(piece: SQLWrapper): SQL<T> =>
  sql`${piece}`.mapWith((text: string) => JSON.parse(text) as T)

/** Whether something holds, which SQLite says by 1 and 0. */
export const held = (piece: SQLWrapper): SQL<boolean> =>
  sql`${piece}`.mapWith((value: number) => value === 1)

/** Rows of a subquery as a list of objects. */
export const objects = <T>(fields: Readonly<Record<string, SQLWrapper>>, from: SQLWrapper) =>
  parsed<T[]>(
    sql`(select json_group_array(json_object(${sql.join(
      Object.entries(fields).flatMap(([name, value]) => [sql.raw(`'${name}'`), value]),
      sql`, `,
    )})) ${from})`,
  )

/** How many rows a subquery finds. */
export const counted = (from: SQLWrapper): SQL<number> => sql<number>`(select count(*) ${from})`

/** Text compared without regard to case, as people read names. */
export const caseless = (piece: SQLWrapper): SQL => sql`${piece} collate nocase`

/** A `like` pattern that finds a text anywhere, with its own `%` and `_` taken literally. */
export const anywhere = (text: string): string => `%${text.replace(/[\\%_]/g, (c) => `\\${c}`)}%`
export const like = (column: SQLWrapper, pattern: string | SQLWrapper): SQL<boolean> =>
  sql`${column} like ${pattern} escape '\\'`
