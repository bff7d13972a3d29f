import type { ItemKind } from '#contract/words.ts'
import type { Item } from '../../engine/journal.ts'

/** What a row of the journal is about. */
export const itemOfRow = (row: {
  itemKind: ItemKind | null
  itemId: number | null
}): Item | null =>
  row.itemKind === null || row.itemId === null ? null : { kind: row.itemKind, id: row.itemId }

/** Who did it, as it is said. */
export const whoOf = (names: {
  person?: string | null | undefined
  rule?: string | null | undefined
  series?: string | null | undefined
  /** The token by which a person's program did it. */
  token?: string | null | undefined
}): string =>
  (names.person && names.token ? `${names.person}, by “${names.token}”` : names.person) ??
  (names.rule ? `Rule “${names.rule}”` : names.series ? `Series “${names.series}”` : 'Fernwick')
