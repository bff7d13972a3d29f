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
