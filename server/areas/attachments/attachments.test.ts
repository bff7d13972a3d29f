import { projectSheet } from '../projects/sheet.ts'
import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { barsPng, pagePdf } from '#demo/files.ts'
import { folderFiles } from '../../engine/files.ts'
import { lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'

import { makeTask, taskSheet } from '../tasks/service.ts'
import { checkName, kindOf, LARGEST } from './kinds.ts'
import { addFile, addLink, readFile, removeAttachment } from './service.ts'

describe('what is taken', () => {
  it.each([
    ['a.png', barsPng([1, 2]), 'image/png'],
    ['a.pdf', pagePdf(['Hello']), 'application/pdf'],
    ['photo.txt', barsPng([1]), 'image/png'],
    ['a.csv', Buffer.from('a,b\n'), 'text/csv'],
    ['a.md', Buffer.from('# a'), 'text/plain'],
  ])('%s is what its bytes say', async (name, bytes, type) =>
    expect(await kindOf(name, bytes)).toBe(type),
  )
  it.each([
    ['run.exe', Buffer.from('MZ\0\0\0\0aaaaaaaaaaaaaaaa'), /not taken here/],
    ['page.html', Buffer.from('<script>alert(1)</script>'), /not taken here/],
    ['pic.svg', Buffer.from('<svg onload="x()"/>'), /not taken here/],
    ['noending', Buffer.from('words'), /not taken here/],
    ['binary.txt', Buffer.from([1, 2, 0, 3]), /not taken here/],
    ['empty.txt', Buffer.alloc(0), /is empty/],
    ['large.txt', Buffer.alloc(LARGEST + 1, 65), /over 25 MB/],
  ])('%s is refused with what is right', async (name, bytes, why) =>
    expect(kindOf(name, bytes)).rejects.toThrow(why),
  )
  it.each(['../x.txt', 'a/b.txt', 'C:\\x.txt', 'a\u0000.txt', '..', '   ', 'a'.repeat(201)])(
    'the name %j is refused',
    (name) => expect(() => checkName(name)).toThrow(/path|needs a name|over 200/),
  )
  it('a plain name with accents is taken', () =>
    expect(checkName(' Rechnung Ümläut (2).pdf ')).toBe('Rechnung Ümläut (2).pdf'))
})

describe('files and links', () => {
  it('stand on their task and in the project; gone and back with one undo; guests reach only their own', async () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const mine = makeTask(l.engine, l.imogen, {
      title: 'Theirs',
      projectId: project.id,
      assignees: [l.corrie.id],
    }).result.id
    const other = makeTask(l.engine, l.imogen, { title: 'Ours', projectId: project.id }).result.id
    const { result: file } = await addFile(
      l.engine,
      l.imogen,
      { taskId: mine },
      { name: 'a.txt', bytes: Buffer.from('hello') },
    )
    const { result: hidden } = await addFile(
      l.engine,
      l.imogen,
      { taskId: other },
      { name: 'b.txt', bytes: Buffer.from('secret') },
    )
    await addFile(
      l.engine,
      l.imogen,
      { projectId: project.id },
      { name: 'c.txt', bytes: Buffer.from('of the project') },
    )
    addLink(l.engine, l.imogen, { taskId: mine }, { name: '', url: 'wholesaler.example/terms' })
    expect(projectSheet(l.engine, l.imogen, project.id).files.map((f) => f.name)).toEqual([
      'wholesaler.example/terms',
      'c.txt',
      'b.txt',
      'a.txt',
    ])
    expect(await readFile(l.engine, l.corrie, file.id)).toMatchObject({
      name: 'a.txt',
      type: 'text/plain',
      bytes: Buffer.from('hello'),
    })
    await expect(readFile(l.engine, l.corrie, hidden.id)).rejects.toThrow(/not shared with you/)
    expect(() => removeAttachment(l.engine, l.corrie, file.id)).toThrow(
      /only what they added themselves/,
    )
    removeAttachment(l.engine, l.imogen, file.id)
    expect(taskSheet(l.engine, l.imogen, mine).attachments.map((a) => a.url)).toEqual([
      'https://wholesaler.example/terms',
    ])
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect((await readFile(l.engine, l.imogen, file.id)).bytes.toString()).toBe('hello')
  })
  it('a link leads to http, https or mail, nowhere else', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'T' }).result
    for (const url of ['javascript:alert(1)', 'data:text/html,x', 'file:///etc/passwd', 'https://'])
      expect(
        () => addLink(l.engine, l.imogen, { taskId: id }, { name: '', url }).result,
        url,
      ).toThrow(/A link begins/)
  })
  it('on disk the same bytes are kept once, under their digest; anything else is not reached', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'fernwick-files-'))
    const store = folderFiles(folder)
    // Both at once: each writes a part of its own.
    const [digest = '', again] = await Promise.all(
      ['abc', 'abc'].map((x) => store.put(Buffer.from(x))),
    )
    // SHA-256 of "abc": FIPS 180-2, appendix B.1.
    expect(digest).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad')
    expect(again).toBe(digest)
    expect((await store.read(digest))!.toString()).toBe('abc')
    expect(await store.read('../../etc/passwd')).toBeNull()
    expect(await store.read('0'.repeat(64))).toBeNull()
    expect(readdirSync(join(folder, 'writing'))).toEqual([])
    rmSync(folder, { recursive: true })
  })
})
