import { describe, expect, it } from 'vitest'
import type { ReadTable } from '#contract/clockwork.ts'
import type { Problem } from '#contract/common.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as } = serveDemo(london('2026-11-23T12:00'))

describe('bringing in a CSV', () => {
  const read = async (bytes: Uint8Array) =>
    (await as('manager'))<ReadTable & Problem>('POST', '/api/v1/templates/read', bytes)
  const text = (t: string) => new TextEncoder().encode(t)
  it('reads quotes, line breaks and semicolons', async () => {
    const { body } = await read(
      text('Task;Phase;Days\r\n"Ask; again";Gather;-3\r\n"Two\nlines";Gather;0\r\n'),
    )
    expect(body).toMatchObject({
      headings: ['Task', 'Phase', 'Days'],
      rows: [
        ['Ask; again', 'Gather', '-3'],
        ['Two\nlines', 'Gather', '0'],
      ],
      mapping: { title: 0, phase: 1, days: 2 },
      encoding: 'UTF-8',
      notes: [],
    })
  })
  it('names another encoding and reads it', async () => {
    expect((await read(new Uint8Array([...text('Task\nCaf'), 0xe9, 0x0a]))).body).toMatchObject({
      rows: [['Café']],
      encoding: 'Windows-1252',
    })
    expect(
      (await read(new Uint8Array(Buffer.from('\ufeffTask\nCafé', 'utf16le')))).body,
    ).toMatchObject({ rows: [['Café']], encoding: 'UTF-16' })
  })
  it.each([
    ['an empty file', new Uint8Array(), 'empty-file'],
    ['a heading alone', text('Task,Phase\n'), 'empty-file'],
    ['white space', text('\n\n  \n'), 'empty-file'],
    ['a picture', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 1]), 'not-csv'],
    ['a web page', text('<!doctype html><p>Task'), 'not-csv'],
    ['20,000 rows', text(`Task\n${'Ask\n'.repeat(20_000)}`), 'too-many-rows'],
  ])('%s is refused, saying what would be right', async (_, bytes, code) => {
    const answer = await read(bytes)
    expect([answer.status, answer.body.code]).toEqual([422, code])
  })
  it('makes a template of what can be read', async () => {
    const manager = await as('manager')
    const { body } = await manager<
      { definition: { phases: { tasks: { title: string }[] }[] } } & Problem
    >('POST', '/api/v1/templates/import', {
      name: 'Brought',
      anchor: 'deadline',
      rows: [
        ['Ask', '-3'],
        ['', '1'],
        ['Post', 'soon'],
      ],
      mapping: { title: 0, days: 1 },
    })
    expect(body.definition.phases[0]!.tasks.map((t) => t.title)).toEqual(['Ask'])
    expect(
      (
        await manager('POST', '/api/v1/templates/import', {
          name: 'None',
          anchor: 'deadline',
          rows: [['', '-3']],
          mapping: { title: 0, days: 1 },
        })
      ).body.detail,
    ).toMatch(/None of the 1 row can be read: line 2 has no title/)
  })
  it('a template saved in between is not overwritten', async () => {
    const manager = await as('manager')
    const { body } = await manager<{ definition: object }>('GET', '/api/v1/templates/1')
    expect(
      (
        await manager(
          'PUT',
          '/api/v1/templates/1',
          { definition: body.definition },
          { 'If-Match': '"1"' },
        )
      ).status,
    ).toBe(200)
    expect(
      (
        await manager(
          'PUT',
          '/api/v1/templates/1',
          { definition: body.definition },
          { 'If-Match': '"1"' },
        )
      ).status,
    ).toBe(412)
  })
})

describe('rules over HTTP', () => {
  it.each([
    [{ rungs: [] }, 400],
    [
      {
        rungs: [
          {
            key: 'a',
            delay: { days: 0, unit: 'working', time: '09:00' },
            actions: [{ kind: 'assign', who: { is: 'lead' } }],
          },
        ],
      },
      400,
    ],
    [{ rungs: [{ key: 'a', delay: { hours: 2 }, actions: [{ kind: 'shout' }] }] }, 400],
    [
      {
        rungs: [
          {
            key: 'a',
            delay: { hours: 2 },
            actions: [{ kind: 'tell', who: { is: 'person', id: 99999 }, mail: true, text: 'x' }],
          },
        ],
      },
      422,
    ],
    [
      {
        rungs: [
          {
            key: 'a',
            delay: { hours: 2 },
            actions: [{ kind: 'tell', who: { is: 'lead' }, mail: true, text: '{salary}' }],
          },
        ],
      },
      422,
    ],
  ])('%j is refused', async (part, status) => {
    const answer = await (
      await as('manager')
    )('POST', '/api/v1/rules', {
      name: 'R',
      ownerId: 1,
      definition: { trigger: { kind: 'late' }, conditions: { match: 'all', of: [] }, ...part },
    })
    expect(answer.status).toBe(status)
  })
})
