import type { OutlineGroup } from '#contract/query.ts'

/** A task as a line. */
export interface Row {
  readonly kind: 'row'
  readonly id: number
  readonly depth: number
  /** Whether tasks lie under it. */
  readonly kids: boolean
  readonly group: OutlineGroup
}
/** A line of a list or table: the head of a group, a task, or where one is added. */
export type Item =
  | { readonly kind: 'head'; readonly group: OutlineGroup; readonly key: string }
  | Row
  | { readonly kind: 'add'; readonly group: OutlineGroup }

/** What is folded away: groups by their keys, and what lies under tasks. */
export interface Folded {
  readonly groups: ReadonlySet<string>
  readonly rows: ReadonlySet<number>
}

/** The tasks of a group in their order, without what is folded under others. */
function rowsOf(group: OutlineGroup, folded: Folded['rows']): Item[] {
  const out: Item[] = []
  let hidden = Infinity
  group.ids.forEach((id, i) => {
    const depth = group.depths?.[i] ?? 0
    if (depth > hidden) return
    hidden = Infinity
    const kids = (group.depths?.[i + 1] ?? 0) > depth
    if (kids && folded.has(id)) hidden = depth
    out.push({ kind: 'row', id, depth, kids, group })
  })
  return out
}

/** The lines of a list or table, in order. */
export function itemsOf(
  groups: readonly OutlineGroup[],
  {
    headed,
    folded,
    addable,
  }: {
    readonly headed: boolean
    readonly folded: Folded
    readonly addable: (group: OutlineGroup) => boolean
  },
): Item[] {
  return groups.flatMap((group): Item[] => {
    const key = String(group.key)
    const head: Item[] = headed ? [{ kind: 'head', group, key }] : []
    if (headed && folded.groups.has(key)) return head
    return [
      ...head,
      ...rowsOf(group, folded.rows),
      ...(addable(group) ? [{ kind: 'add' as const, group }] : []),
    ]
  })
}

/** The numbers of the tasks among lines, in their order. */
export const idsIn = (items: readonly Item[]): number[] =>
  items.flatMap((item) => (item.kind === 'row' ? [item.id] : []))

/** The group that a task is picked up from: the one that is said, where it stands in several. */
export const groupWith = (
  groups: readonly OutlineGroup[],
  id: number,
  out?: string,
): OutlineGroup | undefined => {
  const all = groups.filter((group) => group.ids.includes(id))
  return all.find(({ key }) => String(key) === out) ?? all[0]
}

/** What a task stands after that is put down on a line: on another task it takes that one’s place. */
export function placeAt(items: readonly Item[], index: number, id: number): number | null {
  const target = items[index]
  if (target?.kind === 'add') return target.group.ids.at(-1) ?? null
  const own = target?.kind === 'row' ? [id, target.id] : [id]
  return idsIn(items.slice(0, index)).findLast((other) => !own.includes(other)) ?? null
}

/** Cells as spreadsheets take them: tabs between them, lines between rows. */
export const asSheet = (rows: readonly (readonly string[])[]): string =>
  rows
    .map((row) =>
      row
        .map((text) => (/[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text))
        .join('\t'),
    )
    .join('\n')

/** Columns with one moved to the place of another. */
export function reordered<T extends { readonly field: string }>(
  columns: readonly T[],
  moved: string,
  to: string,
): readonly T[] {
  const [from, at] = [moved, to].map((field) => columns.findIndex((c) => c.field === field))
  const column = columns[from!]
  if (!column || at === -1) return columns
  return columns.toSpliced(from!, 1).toSpliced(at!, 0, column)
}

/** How narrow and how wide columns may be, in pixels. */
export const WIDTHS = { least: 48, most: 600 }
/** Columns with one as wide as is asked, within bounds. */
export const sized = <T extends { readonly field: string; readonly width: number }>(
  columns: readonly T[],
  field: string,
  width: number,
): T[] =>
  columns.map((column) =>
    column.field === field
      ? { ...column, width: Math.max(WIDTHS.least, Math.min(WIDTHS.most, width)) }
      : column,
  )
