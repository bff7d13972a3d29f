import { fileTypeFromBuffer } from 'file-type'
import { refuse } from '#core/refusal.ts'

/** The largest file taken, in bytes. */
export const LARGEST = 25 * 1024 * 1024

/** Kinds of file that are taken, by what their bytes say they are. */
const TAKEN: ReadonlySet<string> = new Set([
  'image/png',
  'image/jpeg',
  'image/gif',
  'image/webp',
  'image/avif',
  'image/heic',
  'image/tiff',
  'application/pdf',
  'application/zip',
  'application/rtf',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  'application/vnd.openxmlformats-officedocument.presentationml.presentation',
  'application/vnd.oasis.opendocument.text',
  'application/vnd.oasis.opendocument.spreadsheet',
  'application/vnd.oasis.opendocument.presentation',
  'application/x-cfb',
  'audio/mpeg',
  'audio/wav',
  'video/mp4',
])
/** Files without a signature: plain text, told apart by their ending. */
const TEXTS: Readonly<Record<string, string>> = {
  txt: 'text/plain',
  md: 'text/plain',
  log: 'text/plain',
  csv: 'text/csv',
  tsv: 'text/tab-separated-values',
  json: 'application/json',
  ics: 'text/calendar',
  vcf: 'text/vcard',
  eml: 'message/rfc822',
}
/** Kinds that a browser may show in place; all else is only downloaded. */
export const SHOWN: ReadonlySet<string> = new Set([
  'image/png',
  'image/jpeg',
  'image/gif',
  'image/webp',
  'image/avif',
  'application/pdf',
  'text/plain',
  'text/csv',
])

const ALLOWED =
  'pictures, PDF, office documents, text, CSV, calendar and mail files, sound, video and ZIP'

/**
 * @throws Refusal `bad-name` for a name that is empty, too long, or holds a path or control
 * characters
 */
export function checkName(name: string): string {
  const clean = name.trim()
  if (clean === '' || clean === '.' || clean === '..')
    refuse('bad-name', 'The file needs a name.', 'name')
  if (clean.length > 200)
    refuse('bad-name', 'The name of the file is over 200 characters; shorten it.', 'name')
  if (/[/\\\u0000-\u001f\u007f]/.test(clean))
    refuse(
      'bad-name',
      `“${clean.slice(0, 60)}” holds a path; a file has a name only, without / or \\.`,
      'name',
    )
  return clean
}

/**
 * What kind of file this is, by its bytes first. @throws Refusal `kind-not-allowed`, `too-large`,
 * `empty`
 */
export async function kindOf(name: string, bytes: Buffer): Promise<string> {
  if (bytes.length === 0) refuse('empty', `“${name}” is empty.`, 'file')
  if (bytes.length > LARGEST)
    refuse(
      'too-large',
      `“${name}” is over ${LARGEST / 1024 / 1024} MB; share a link to it instead.`,
      'file',
    )
  const found = (await fileTypeFromBuffer(bytes))?.mime
  if (found && TAKEN.has(found)) return found
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''
  const text = TEXTS[ending]
  if (!found && text && !bytes.includes(0)) return text
  return refuse(
    'kind-not-allowed',
    `“${name}” is of a kind that is not taken here. Taken are ${ALLOWED}.`,
    'file',
  )
}
