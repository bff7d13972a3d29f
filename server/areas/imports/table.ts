import { refuse } from '#core/refusal.ts'

/** Rows of text with their headings, as a file holds them; `notes` say what to look at. */
export interface FileRows {
  readonly headings: string[]
  readonly rows: string[][]
  /** The line of the file that the first row stands on, from 1. */
  readonly firstLine: number
  readonly encoding: string
  readonly notes: string[]
}
/** What a file that is brought in may hold. */
export interface Wanted {
  readonly most: number
  /** What holds so many at most, for the refusal: “a template holds”. */
  readonly what: string
  /** What a row is, where it is no task. */
  readonly row?: string
  /** Whether a first line is headings; without it, it always is. */
  readonly isHeading?: (first: readonly string[]) => boolean
}

/** As many columns as a table that is brought in may have. */
export const MOST_COLUMNS = 300

export const tooManyRows = (rows: number, { most, what, row = 'task' }: Wanted): never =>
  refuse(
    'too-many-rows',
    `The file has ${rows.toLocaleString('en-GB')} rows; ` +
      `${what} ${most.toLocaleString('en-GB')} ${row}s at most. Split it into several files.`,
    'file',
  )
export const tooManyColumns = (): never =>
  refuse(
    'too-many-columns',
    `The file has more than ${MOST_COLUMNS} columns; leave out those that are not needed.`,
    'file',
  )

/**
 * What a table must hold to be brought in: headings, where it has any, something below them, not
 * more rows than are wanted.
 */
export function checkedTable(
  all: string[][],
  wanted: Wanted,
): Pick<FileRows, 'headings' | 'rows' | 'firstLine'> {
  const { most, row = 'task', isHeading = () => true } = wanted
  while (all.length && all.at(-1)!.every((c) => !c.trim())) all.pop()
  if (all.length === 0)
    refuse(
      'empty-file',
      `The file holds no text; it needs a heading line and a line for each ${row}.`,
      'file',
    )
  const headed = isHeading(all[0]!)
  const rows = headed ? all.slice(1) : all
  if (rows.length === 0)
    refuse(
      'empty-file',
      `The file has a heading line and nothing below it; put each ${row} on a line of its own.`,
      'file',
    )
  if (rows.length > most) tooManyRows(rows.length, wanted)
  if (all.some((each) => each.length > MOST_COLUMNS)) tooManyColumns()
  const headings = all[0]!.map((h, i) => (headed ? h.trim() : `Column ${i + 1}`))
  return { headings, rows, firstLine: headed ? 2 : 1 }
}
