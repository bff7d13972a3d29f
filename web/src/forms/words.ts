import { partAt } from './merge.ts'
import type { ClashAt } from './useForm.ts'

/** A clash in words: what it is about, and how each side has it. */
export interface ClashWords {
  readonly label: string
  readonly mine: string
  readonly theirs: string
}

const titled = (part: unknown): string | null => {
  if (typeof part !== 'object' || part === null) return null
  const { name, title } = part as { name?: unknown; title?: unknown }
  return typeof title === 'string' ? title : typeof name === 'string' ? name : null
}

/** A value as it is read: words as they stand, parts of a thing one after the other. */
export function sayPart(part: unknown): string {
  if (part === undefined || part === null || part === '') return 'nothing'
  if (typeof part === 'boolean') return part ? 'yes' : 'no'
  if (typeof part !== 'object') return String(part)
  const name = titled(part)
  if (name !== null) return `“${name}”`
  const parts: string[] = Object.entries(part)
    .filter(([key]) => key !== 'key' && key !== 'id')
    .map(([, value]) => sayPart(value))
  return parts.length ? parts.join(', ') : 'nothing'
}

/**
 * A clash in words. `labels` says what parts are called, by the name of the part; things with a name
 * or a title of their own are called by it.
 */
export function sayClash(
  value: unknown,
  { place, mine, theirs }: ClashAt,
  labels: Readonly<Record<string, string>>,
): ClashWords {
  const keys = place.split('.')
  const label = keys
    .flatMap((key, i) => {
      const own = titled(partAt(value, keys.slice(0, i + 1).join('.')))
      return own !== null ? [`“${own}”`] : key in labels ? [labels[key]!] : []
    })
    .join(': ')
  return { label: label || keys.at(-1)!, mine: sayPart(mine), theirs: sayPart(theirs) }
}
