import { crc32, deflateSync } from 'node:zlib'
import type { FileStore } from '#server/engine/files.ts'

/** A picture of bars, as a PNG of 320 by 200 (PNG, W3C: signature, IHDR, IDAT, IEND). */
export function barsPng(values: readonly number[]): Buffer {
  const [width, height] = [320, 200]
  const raw = Buffer.alloc((width * 3 + 1) * height, 0xff)
  const top = Math.max(...values)
  const bar = width / values.length
  for (let y = 0; y < height; y++) {
    raw[y * (width * 3 + 1)] = 0
    for (let x = 0; x < width; x++) {
      const on =
        x % bar > bar * 0.18 &&
        height - y < ((values[Math.floor(x / bar)] ?? 0) / top) * (height - 20) + 6
      raw.set(on ? [0x2c, 0x5b, 0x4b] : [0xee, 0xf1, 0xee], y * (width * 3 + 1) + 1 + x * 3)
    }
  }
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data])
    const out = Buffer.alloc(body.length + 8)
    out.writeUInt32BE(data.length, 0)
    body.copy(out, 4)
    out.writeUInt32BE(crc32(body), body.length + 4)
    return out
  }
  const head = Buffer.alloc(13)
  head.writeUInt32BE(width, 0)
  head.writeUInt32BE(height, 4)
  head.set([8, 2, 0, 0, 0], 8)
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(raw)),
    chunk('IEND', Buffer.alloc(0)),
  ])
}

/** One page of text as a PDF. */
export function pagePdf(lines: readonly string[]): Buffer {
  const text = lines
    .map(
      (line, i) =>
        `BT /F1 ${i ? 12 : 20} Tf 60 ${760 - i * 26 - (i ? 14 : 0)} Td (${line.replace(/[\\()]/g, '\\$&')}) Tj ET`,
    )
    .join('\n')
  const objects = [
    '<< /Type /Catalog /Pages 2 0 R >>',
    '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
    '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>',
    `<< /Length ${text.length} >>\nstream\n${text}\nendstream`,
    '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>',
  ]
  let body = '%PDF-1.4\n'
  const places = objects.map((object, i) => {
    const at = body.length
    body += `${i + 1} 0 obj\n${object}\nendobj\n`
    return at
  })
  const xref = body.length
  const entries = places.map((at) => `${String(at).padStart(10, '0')} 00000 n \n`).join('')
  body += `xref\n0 6\n0000000000 65535 f \n${entries}`
  body += `trailer << /Size 6 /Root 1 0 R >>\nstartxref\n${xref}\n%%EOF\n`
  return Buffer.from(body, 'latin1')
}

/** The files of the demo. */
const FILES: Readonly<Record<string, readonly [type: string, bytes: () => Buffer]>> = {
  'Orders by site, October.png': ['image/png', () => barsPng([42, 31, 57, 38, 61, 29, 48, 66])],
  'Terms of the wholesaler.pdf': [
    'application/pdf',
    () =>
      pagePdf([
        'Terms of supply',
        'One account for several sites: yes, on request.',
        'Statements: monthly, to one address.',
      ]),
  ],
  'accounts.csv': [
    'text/csv',
    () => Buffer.from('Site,Account\r\nCopper Lane,88120\r\nBeck Side,88214\r\nHill Top,90417\r\n'),
  ],
  'Letter of engagement.pdf': [
    'application/pdf',
    () =>
      pagePdf([
        'Letter of engagement',
        'Hollin Street Vets and Quillhaven',
        'Signed by both partners.',
      ]),
  ],
}
/** What an attachment says of a file that is kept. */
interface KeptFile {
  readonly name: string
  readonly type: string
  readonly size: number
  readonly digest: string
}
export type KeptFiles = (name: string) => KeptFile

/** Keeps the files of the demo. */
export async function keepFiles(store: FileStore): Promise<KeptFiles> {
  const kept = new Map<string, KeptFile>()
  for (const [name, [type, make]] of Object.entries(FILES)) {
    const bytes = make()
    kept.set(name, { name, type, size: bytes.length, digest: await store.put(bytes) })
  }
  return (name) => kept.get(name)!
}
