/** Somebody as they stand in a line: “Ines Corbet, ines@example.org, bookkeeper”. */
export interface PersonLine {
  /** From 1. */
  readonly line: number
  readonly name: string
  readonly email: string
  readonly title: string
}
/** A line that says no address, or nobody’s name. */
export interface LostLine {
  readonly line: number
  readonly text: string
  readonly why: string
}

const ADDRESS = /[^\s<>,;"'()]+@[^\s<>,;"'()]+\.[^\s<>,;"'()]+/
/** Words of headings: a first line of nothing else is one. */
const HEADING = /^(name|full name|person|e-?mail( address)?|address|title|role|job)$/i

const bare = (text: string): string => text.replace(/^["'\s]+|["'\s]+$/g, '').trim()
/** “ines.corbet” as a name: “Ines Corbet”. */
const nameOf = (address: string): string =>
  (address.split('@')[0] ?? '')
    .split(/[._-]+/)
    .filter(Boolean)
    .map((part) => `${part[0]!.toUpperCase()}${part.slice(1)}`)
    .join(' ')

function readLine(text: string, line: number): PersonLine | LostLine {
  const email = ADDRESS.exec(text)?.[0]
  if (!email) return { line, text, why: 'has no e-mail address' }
  const parts = text
    .replace(email, ',')
    .replace(/[<>()]/g, '')
    .split(/[,;\t]/)
    .map(bare)
    .filter(Boolean)
  const [name = nameOf(email), title = ''] = parts
  return name ? { line, name, email, title } : { line, text, why: 'has no name' }
}

/**
 * People as they are pasted, a line each, in any order of name and address: from a mail's line of
 * recipients, a sheet or a file. A first line of headings is passed over; a name that is missing is
 * made of the address.
 */
export function readPeople(text: string): { people: PersonLine[]; lost: LostLine[] } {
  const people: PersonLine[] = []
  const lost: LostLine[] = []
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    const words = raw
      .split(/[,;\t]/)
      .map(bare)
      .filter(Boolean)
    if (!words.length || (i === 0 && words.every((word) => HEADING.test(word)))) continue
    const read = readLine(raw, i + 1)
    if ('why' in read) lost.push(read)
    else people.push(read)
  }
  return { people, lost }
}
