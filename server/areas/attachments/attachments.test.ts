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

import { duplicateTask } from '../tasks/copy.ts'
import { makeTask, taskSheet } from '../tasks/service.ts'
import { checkName, kindOf, LARGEST } from './kinds.ts'
import { addFile, addLink, readFile, removeAttachment, showOnBoard } from './service.ts'

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
  it('one of them is shown on the slip of its task, by members; a copy of the task shows it too', async () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const task = { title: 'T', projectId: project.id, assignees: [l.corrie.id] }
    const { id } = makeTask(l.engine, l.imogen, task).result
    const home = { taskId: id }
    const file = { name: 'a.png', bytes: barsPng([1, 2]) }
    const { result: picture } = await addFile(l.engine, l.imogen, home, file)
    const { result: link } = addLink(l.engine, l.imogen, home, { name: 'Terms', url: 'a.example' })
    const cover = (of = id) => taskSheet(l.engine, l.imogen, of).cover
    expect(cover()).toBeNull()
    showOnBoard(l.engine, l.imogen, picture.id, true)
    expect(cover()).toEqual({ id: picture.id, name: 'a.png', url: null, type: 'image/png' })
    const { change } = showOnBoard(l.engine, l.tobias, link.id, true)
    expect(cover()).toMatchObject({ name: 'Terms', url: 'https://a.example' })
    undoChange(l.engine, l.tobias, change!).whole()
    expect(cover()?.name).toBe('a.png')
    const take = { title: 'Copy', take: ['files' as const] }
    const copy = duplicateTask(l.engine, l.imogen, id, take).whole().result.id
    expect(cover(copy)?.name).toBe('a.png')
    removeAttachment(l.engine, l.imogen, picture.id)
    expect([cover(), cover(copy)?.name]).toEqual([null, 'a.png'])
    const again = cover(copy)!.id
    showOnBoard(l.engine, l.imogen, again, false)
    expect(cover(copy)).toBeNull()

    expect(() => showOnBoard(l.engine, l.corrie, link.id, true)).toThrow(/Guests/)
    expect(() => showOnBoard(l.engine, l.imogen, picture.id, true)).toThrow(/not here any more/)
    const filed = { projectId: project.id }
    const { result: plan } = addLink(l.engine, l.imogen, filed, { name: '', url: 'b.example' })
    expect(() => showOnBoard(l.engine, l.imogen, plan.id, true)).toThrow(/Only what is on a task/)
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
