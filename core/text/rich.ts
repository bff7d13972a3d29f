const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  quot: '"',
  apos: "'",
  nbsp: ' ',
}
const BLOCK = /<\/?(?:p|div|li|ul|ol|h[1-6]|blockquote|pre|br|hr|tr|table)\b[^>]*>/gi

/**
 * The words of a piece of HTML: tags gone, blocks on lines of their own, entities read. For search,
 * lists and mail; not a sanitiser.
 */
export function plainText(html: string): string {
  return html
    .replace(BLOCK, '\n')
    .replace(/<[^>]*>/g, '')
    .replace(/&(#x[0-9a-f]{1,6}|#\d{1,7}|[a-z]+);/gi, (whole, name: string) => {
      if (!name.startsWith('#')) return ENTITIES[name.toLowerCase()] ?? whole
      const code =
        name[1] === 'x' || name[1] === 'X' ? parseInt(name.slice(2), 16) : Number(name.slice(1))
      return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole
    })
    .replace(/[ \t]+/g, ' ')
    .replace(/ ?\n[ \n]*/g, '\n')
    .trim()
}

/**
 * HTML that says exactly what a plain text says, each line of it a paragraph; nothing for nothing.
 */
export function richText(text: string): string {
  const safe = text.trim().replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')
  return safe === ''
    ? ''
    : safe
        .split(/\n+/)
        .map((line) => `<p>${line}</p>`)
        .join('')
}

/** People mentioned in rich text, by id, each once. */
export const mentioned = (html: string): number[] => [
  ...new Set([...html.matchAll(/data-person="(\d{1,15})"/g)].map((m) => Number(m[1]))),
]
