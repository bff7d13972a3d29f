import exceljs from 'exceljs'
import { unzipSync, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { readRows } from './rows.ts'

const read = (bytes: Uint8Array | string) =>
  readRows(Buffer.from(bytes), { most: 5_000, what: 'one file brings in' })
async function book(fill: (sheet: exceljs.Worksheet) => void): Promise<Uint8Array> {
  const workbook = new exceljs.Workbook()
  fill(workbook.addWorksheet('Work'))
  return new Uint8Array(await workbook.xlsx.writeBuffer())
}
/** A workbook with one of its parts changed. */
const altered = (bytes: Uint8Array, name: string, part: (text: string) => string): Uint8Array => {
  const parts = unzipSync(bytes)
  return zipSync({
    ...parts,
    [name]: Buffer.from(part(Buffer.from(parts[name]!).toString('utf8'))),
  })
}
const SHEET = 'xl/worksheets/sheet1.xml'

describe('a CSV file made to be slow', () => {
  it('empty lines at its end, and in its middle, are only empty lines', async () => {
    const { rows } = await read(`Task\r\nPost${'\r\n'.repeat(4_000)} x`)
    expect([rows.length, rows.at(0), rows.at(-1)]).toEqual([4_001, ['Post'], [' x']])
    expect((await read(`Task\nPost${'\n\r \t'.repeat(20_000)}`)).rows).toEqual([['Post']])
  })
  it('too many lines or columns are refused by name', async () => {
    await expect(read(`Task${'\nx'.repeat(200_000)}`)).rejects.toThrow(/100,000 rows/)
    await expect(read(`Task\nx${','.repeat(400)}x`)).rejects.toThrow(/more than 300 columns/)
  })
})

describe('a workbook made to be slow', () => {
  it('one cell far away is refused, nothing between is laid out', async () => {
    const far = (at: string) =>
      book((sheet) => {
        sheet.getCell('A1').value = 'Task'
        sheet.getCell(at).value = 'x'
      })
    await expect(read(await far('A1048576'))).rejects.toThrow(/1,048,575 rows/)
    await expect(read(await far('XFD2'))).rejects.toThrow(/300 columns/)
  })
  it('a merge or a check over everything is passed by', async () => {
    const plain = await book((sheet) => sheet.addRows([['Task'], ['Post']]))
    const all = 'A1:XFD1048576'
    const wide = altered(plain, SHEET, (xml) =>
      xml.replace(
        '</sheetData>',
        `</sheetData><mergeCells count="1"><mergeCell ref="${all}"/></mergeCells>` +
          `<dataValidations count="1"><dataValidation type="list" sqref="${all}"/></dataValidations>`,
      ),
    )
    expect((await read(wide)).rows).toEqual([['Post']])
  })
  it('one that unpacks to very much is refused, whatever it says of itself', async () => {
    const plain = await book((sheet) => sheet.addRows([['Task'], ['Post']]))
    const huge = altered(plain, SHEET, (xml) => xml + ' '.repeat(97 * 1024 * 1024))
    expect(huge.length).toBeLessThan(1024 * 1024)
    await expect(read(huge)).rejects.toThrow(/unpacks to over 96 MB/)
    // The same, saying of each part that it is a hundred bytes long.
    const lying = Buffer.from(huge)
    for (let at = 0; (at = lying.indexOf(Buffer.from('PK\x01\x02', 'latin1'), at)) >= 0; at += 4)
      lying.writeUInt32LE(100, at + 24)
    await expect(read(lying)).rejects.toThrow(/cannot be read|no sheet/)
  })
  it('a date of no calendar is an empty cell', async () => {
    const dated = await book((sheet) =>
      sheet.addRows([
        ['Task', 'Due'],
        ['Post', new Date('2026-12-03T00:00:00Z')],
      ]),
    )
    const wild = altered(dated, SHEET, (xml) => xml.replace(/<v>46\d+<\/v>/, '<v>1e20</v>'))
    expect((await read(dated)).rows).toEqual([['Post', '2026-12-03']])
    expect((await read(wild)).rows).toEqual([['Post', '']])
  })
})
