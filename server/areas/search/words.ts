/**
 * What a person typed as an FTS5 query: every word must occur, the last one may be unfinished; a
 * phrase in quotes stands as it is. Null where there is no word in it. Source of the syntax: SQLite
 * FTS5, section 3.
 */
export function matchWords(text: string): string | null {
  const parts: string[] = []
  for (const [, phrase, word] of text.matchAll(/"([^"]*)"|([\p{L}\p{N}\p{M}]+)/gu)) {
    const clean = (phrase ?? word ?? '').replace(/[^\p{L}\p{N}\p{M}]+/gu, ' ').trim()
    if (clean) parts.push(`"${clean}"`)
  }
  if (parts.length === 0) return null
  // A word still being typed matches by its beginning.
  if (!/["\s]$/.test(text)) parts[parts.length - 1] += '*'
  return parts.join(' ')
}

/** As long a beginning of a word as the index keeps beginnings of. */
const BEGINNING = 3
/**
 * The same, but of a last word that is still being typed no more than the index knows beginnings of:
 * the newest that match are found at once, of any length. Null where there is no word.
 */
export function matchBeginning(text: string): string | null {
  const match = matchWords(text)
  const typed = match && /(?<word>[^"\s]+)"\*$/.exec(match)?.groups?.['word']
  if (!match || !typed) return match
  return `${match.slice(0, -typed.length - 2)}${[...typed].slice(0, BEGINNING).join('')}"*`
}
