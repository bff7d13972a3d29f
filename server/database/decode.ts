import { Column, getTableName, is, SQL, Subquery } from 'drizzle-orm'

/** Where a column of an answer goes in its row, and what it is, as Drizzle puts them in order. */
export interface Selected {
  readonly path: readonly string[]
  readonly field: Column | SQL | SQL.Aliased | Subquery
}
type Row = Record<string, unknown>
type Decode = (value: unknown) => unknown

const plain = Column.prototype.mapFromDriverValue
/** How a stored value is read; undefined where it is taken as it is, as almost all are. */
function decoderOf(field: Selected['field']): Decode | undefined {
  if (is(field, Column))
    return field.mapFromDriverValue === plain ? undefined : (v) => field.mapFromDriverValue(v)
  const text = is(field, SQL) ? field : is(field, Subquery) ? field._.sql : field.sql
  const { decoder } = text as unknown as { decoder: { mapFromDriverValue: Decode } }
  const sample = {}
  // A decoder that hands back what it is given does nothing to anything.
  try {
    if (decoder.mapFromDriverValue(sample) === sample) return undefined
  } catch {
    // It reads its value, then.
  }
  return (v) => decoder.mapFromDriverValue(v)
}

/** One part of a row: a value of its own, or an object of the columns of one table. */
interface Part {
  readonly key: string
  readonly columns: readonly { name: string; index: number; decode: Decode | undefined }[]
  readonly own: boolean
  /** The object with nothing in it yet. */
  readonly blank: Row
  /** The column that is null where a left join found nothing; -1 where the object is always there. */
  readonly absent: number
}

function partsOf(
  fields: readonly Selected[],
  found: Readonly<Record<string, boolean>> | undefined,
): Part[] {
  const parts = new Map<string, { -readonly [K in keyof Omit<Part, 'blank'>]: Part[K] }>()
  const tables = new Map<string, Set<string>>()
  fields.forEach(({ path, field }, index) => {
    const [key = '', name] = path
    const column = { name: name ?? key, index, decode: decoderOf(field) }
    const part = parts.get(key)
    if (part) part.columns = [...part.columns, column]
    else parts.set(key, { key, columns: [column], own: name === undefined, absent: -1 })
    if (name === undefined || !found || !is(field, Column)) return
    const table = getTableName(field.table)
    const of = tables.get(key)
    if (of) of.add(table)
    else {
      tables.set(key, new Set([table]))
      if (!found[table]) parts.get(key)!.absent = index
    }
  })
  // Columns of two tables in one object: it is there whatever either join found.
  for (const [key, of] of tables) if (of.size > 1) parts.get(key)!.absent = -1
  return [...parts.values()].map((part) => ({
    ...part,
    blank: blankOf(part.columns.map(({ name }) => name)),
  }))
}

const valueAt = (row: readonly unknown[], { index, decode }: Part['columns'][number]): unknown => {
  const value = row[index]
  return value === null || !decode ? value : decode(value)
}

/**
 * A row with nothing in it yet, to be copied. Parsed, since V8 turns an object that is given more
 * than a dozen keys one by one into a table, which is several times as slow to copy and to read.
 */
const blankOf = (keys: readonly string[]): Row =>
  JSON.parse(`{${keys.map((key) => `${JSON.stringify(key)}:null`).join()}}`) as Row

/**
 * Makes what turns rows as SQLite gives them (arrays) into objects, by the columns that a question
 * selects. It does what Drizzle's own mapping does, worked out once for a question and not again
 * for every value of every row: that is three times as fast where rows are wide.
 *
 * @param found whether a table's row is always there, by its name (Drizzle's map of joins)
 */
export function decoder(
  fields: readonly Selected[],
  found: Readonly<Record<string, boolean>> | undefined,
): (rows: readonly (readonly unknown[])[]) => Row[] {
  const parts = partsOf(fields, found)
  const empty = blankOf(parts.map((part) => part.key))
  return (rows) =>
    rows.map((raw) => {
      const row: Row = { ...empty }
      for (const { key, columns, own, absent, blank } of parts) {
        if (own) row[key] = valueAt(raw, columns[0]!)
        else if (absent >= 0 && raw[absent] === null) row[key] = null
        else {
          const object: Row = { ...blank }
          for (const column of columns) object[column.name] = valueAt(raw, column)
          row[key] = object
        }
      }
      return row
    })
}
