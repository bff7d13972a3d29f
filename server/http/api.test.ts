import { describe, expect, it } from 'vitest'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as, client, house } = serveDemo(london('2026-11-23T12:00'))

describe('tasks', () => {
  it('the second of two who save sees both versions', async () => {
    const [one, two] = [await as('manager'), await as('member')]
    const { body: made, headers } = await one<{ id: number; version: number }>(
      'POST',
      '/api/v1/tasks',
      { title: 'Shared', due: '2026-11-30' },
    )
    expect(headers.get('etag')).toBe('"1"')
    const seen = { 'If-Match': '"1"' }
    expect(
      (await one('PATCH', `/api/v1/tasks/${made.id}`, { due: '2026-12-01' }, seen)).status,
    ).toBe(200)
    const clash = await two('PATCH', `/api/v1/tasks/${made.id}`, { due: '2026-12-02' }, seen)
    expect(clash.status).toBe(412)
    expect(clash.headers.get('content-type')).toMatch(/application\/problem\+json/)
    expect(clash.body).toMatchObject({
      code: 'changed-since',
      mine: { due: '2026-12-02' },
      theirs: { due: '2026-12-01', version: 2 },
    })
    expect(
      (await two('PATCH', `/api/v1/tasks/${made.id}`, { due: '2026-12-02' }, { 'If-Match': '"2"' }))
        .status,
    ).toBe(200)
  })
  it.each([
    [{ title: '' }, 400, 'title'],
    [{ title: 'x'.repeat(201) }, 400, 'title'],
    [{ title: 'X', due: '30 November' }, 400, 'due'],
    [{ title: 'X', due: '2026-02-30' }, 422, 'due'],
    [{ title: 'X', start: '2026-12-02', due: '2026-12-01' }, 422, 'start'],
    [{ title: 'X', dueTime: '10:00' }, 422, 'dueTime'],
    [{ title: 'X', estimate: -5 }, 400, 'estimate'],
    [{ title: 'X', assignees: [99999] }, 422, 'assignees'],
    [{ title: 'X', colour: 'red' }, 400, 'colour'],
    [{ title: 'X', projectId: 99999 }, 422, 'projectId'],
  ])('%j is refused with its place', async (body, status, place) => {
    const answer = await (await as('manager'))('POST', '/api/v1/tasks', body)
    expect([answer.status, answer.body.place]).toEqual([status, place])
    expect(answer.body.detail.length).toBeGreaterThan(8)
  })
  it('a repeated creation makes nothing twice; its key is not taken for anything else', async () => {
    const manager = await as('manager')
    const key = { 'Idempotency-Key': 'once-1' }
    const first = await manager<{ id: number }>('POST', '/api/v1/tasks', { title: 'Once' }, key)
    const again = await manager<{ id: number }>('POST', '/api/v1/tasks', { title: 'Once' }, key)
    expect(again.body.id).toBe(first.body.id)
    expect((await manager('POST', '/api/v1/tasks', { title: 'Other' }, key)).body.code).toBe(
      'key-reused',
    )
  })
  it('keys are told apart however long they are, and a repeat shows nothing that was taken away', async () => {
    const [manager, contractor] = [await as('manager'), await as('contractor')]
    const long = (end: string) => ({ 'Idempotency-Key': `${'k'.repeat(150)}${end}` })
    const make = async (title: string, end: string) =>
      (await manager<{ id: number }>('POST', '/api/v1/tasks', { title }, long(end))).body.id
    expect(await make('Long 1', 'a')).not.toBe(await make('Long 2', 'b'))
    const { id } = (await contractor<{ id: number }>('GET', '/api/v1/me')).body
    const assignees = [id]
    const task = await manager<{ id: number }>('POST', '/api/v1/tasks', { title: 'His', assignees })
    const path = `/api/v1/tasks/${task.body.id}/comments`
    const say = () => contractor('POST', path, { body: '<p>Here</p>' }, long('c'))
    expect([(await say()).status, (await say()).status]).toEqual([201, 201])
    await manager('PATCH', `/api/v1/tasks/${task.body.id}`, { assignees: [] })
    expect((await say()).status).toBe(404)
  })
  it('bodies that are not JSON, too large or of another kind are refused', async () => {
    const manager = await as('manager')
    expect(
      (await manager('POST', '/api/v1/tasks', 'x', { 'Content-Type': 'text/plain' })).status,
    ).toBe(415)
    expect(
      (await manager('POST', '/api/v1/tasks', { title: 'X', description: 'y'.repeat(3_000_000) }))
        .status,
    ).toBe(413)
    expect((await manager('GET', '/api/v1/nothing')).status).toBe(404)
    expect((await manager('GET', '/api/v1/tasks/one')).status).toBe(404)
  })
})

describe('conditions over HTTP', () => {
  const nested = (levels: number) =>
    `${'{"match":"all","of":['.repeat(levels)}${']}'.repeat(levels)}`
  const rule = (conditions: string) =>
    `{"name":"R","ownerId":1,"definition":{"trigger":{"kind":"made"},"conditions":${conditions},
      "actions":[{"kind":"assign","who":{"is":"lead"}}]}}`
  const view = (filter: string) =>
    `{"name":"V","shared":false,"definition":{"kind":"list","scope":{"of":"firm"},"filter":${filter},
      "sort":[],"group":null,"columns":[],"colour":null,"tree":true,"step":"month"}}`
  it.each([
    ['a rule', '/api/v1/rules', rule],
    ['a view', '/api/v1/views', view],
  ])('nested 60,000 deep, %s is refused and nothing falls over', async (_, path, body) => {
    const call = await as('manager')
    const send = (text: string) =>
      call('POST', path, new TextEncoder().encode(text), { 'Content-Type': 'application/json' })
    const answer = await send(body(nested(60_000)))
    expect([answer.status, answer.body.code]).toEqual([400, 'too-deep'])
    expect((await send(body(nested(5)))).status).toBe(201)
  })
  it('nested deep in an address, or of the wrong kind, a question is refused by name', async () => {
    const call = await as('manager')
    const asked = (q: string) =>
      call<{ faults: { place: string }[] }>(
        'GET',
        `/api/v1/tasks/outline?q=${encodeURIComponent(q)}`,
      )
    expect((await asked(`{"filter":${nested(200)}}`)).status).toBe(400)
    for (const [value, status] of [
      ['{"days":1.5}', 400],
      ['{"period":"fortnight","shift":0}', 400],
      ['null', 400],
      ['"soon"', 200],
      ['true', 200],
      ['[[1]]', 400],
    ] as const)
      expect(
        (
          await asked(
            `{"filter":{"match":"all","of":[{"field":"due","op":"before","value":${value}}]}}`,
          )
        ).status,
        value,
      ).toBe(status)
    const answer = await asked(
      JSON.stringify({
        filter: {
          match: 'any',
          of: [
            { field: 'due', op: 'before', value: 'soon' },
            { field: 'nope', op: 'is', value: 1 },
          ],
        },
      }),
    )
    expect(answer.body.faults.map(({ place }) => place)).toEqual(['0', '1'])
  })
})

describe('the rest of the surface', () => {
  it('what changes is announced to browsers, to guests only what is theirs', async () => {
    const manager = await as('manager')
    const signed = await client()('POST', '/api/v1/session/demo', { who: 'contractor' })
    const heard: string[] = []
    const stop = new AbortController()
    const stream = await fetch(`${house.base}/api/v1/live`, {
      headers: { Cookie: signed.headers.get('set-cookie')!.split(';')[0]! },
      signal: stop.signal,
    })
    expect(stream.headers.get('content-type')).toMatch(/text\/event-stream/)
    const reader = stream.body!.getReader()
    const reading = (async () => {
      for (;;) {
        const { value, done } = await reader.read()
        if (done) return
        heard.push(new TextDecoder().decode(value))
      }
    })().catch(() => undefined)
    const theirs = house.server.db.sqlite
      .prepare(
        'select a.taskId as id from taskAssignees a join people w on w.id = a.personId and ' +
          'w.id = (select min(id) from people where access = ?) join tasks t on t.id = ' +
          'a.taskId and t.closedAt is null limit 1',
      )
      .get('contractor') as { id: number }
    await manager('POST', '/api/v1/tasks', { title: 'Not theirs' })
    await manager('POST', `/api/v1/tasks/${theirs.id}/comments`, { body: 'Hello' })
    for (let i = 0; i < 50 && !heard.join('').includes('event: change'); i++)
      await new Promise((r) => setTimeout(r, 20))
    stop.abort()
    await reading
    const changes = heard
      .join('')
      .split('\n')
      .filter((l) => l.startsWith('data: {"tasks"'))
    expect(JSON.parse(changes[0]!.slice(6))).toMatchObject({ fields: null, on: [] })
    expect(changes.map((c) => (JSON.parse(c.slice(6)) as { tasks: number[] }).tasks)).toEqual([
      [theirs.id],
    ])
  })
  it('mail that rules sent went out by SMTP and can be read in the tray', async () => {
    const manager = await as('manager')
    await manager('POST', `/api/test/clock?to=${london('2026-11-24T09:00')}`)
    const { body } = await manager<{ to: string; subject: string; body: string }[]>(
      'GET',
      '/api/v1/mail',
    )
    expect(body.length).toBeGreaterThan(0)
    expect(body[0]!.body).toMatch(/Task #\d+/)
    expect((await client()('GET', '/api/v1/mail')).status).toBe(401)
  })
  it('describes itself in OpenAPI 3.1, every route with its body', async () => {
    const { body } = await client()<{
      openapi: string
      paths: Record<
        string,
        Record<
          string,
          { requestBody?: { content: Record<string, { schema: { properties?: object } }> } }
        >
      >
    }>('GET', '/api/v1/openapi.json')
    expect(body.openapi).toBe('3.1.0')
    expect(Object.keys(body.paths).length).toBeGreaterThan(20)
    expect(body.paths).toHaveProperty('/together')
    expect(
      body.paths['/tasks/{id}']!['patch']!.requestBody!.content['application/json']!.schema
        .properties,
    ).toHaveProperty('dueTime')
  })
})

describe('work over the wire', () => {
  interface Page {
    tasks: { id: number; title: string }[]
    next: string | null
    faults: { place: string }[]
  }
  it('a query that cannot be read says where; one that asks for what is gone still answers', async () => {
    const manager = await as('manager')
    expect((await manager('GET', '/api/v1/tasks?q=%7Bnope')).body).toMatchObject({
      status: 400,
      place: 'q',
      detail: 'q must be JSON.',
    })
    expect(
      (
        await manager(
          'GET',
          `/api/v1/tasks?q=${encodeURIComponent('{"filter":{"match":"most","of":[]}}')}`,
        )
      ).body.detail,
    ).toMatch(/filter.match must be one of/)
    const q = encodeURIComponent(
      JSON.stringify({
        filter: { match: 'all', of: [{ field: 'field:9999', op: 'filled' }] },
        sort: [{ field: 'due', down: true }],
      }),
    )
    const first = await manager<Page>('GET', `/api/v1/tasks?q=${q}&limit=7`)
    expect([first.body.tasks.length, first.body.next, first.body.faults[0]?.place]).toEqual([
      7,
      '7',
      '0',
    ])
    const second = await manager<Page>(
      'GET',
      `/api/v1/tasks?q=${q}&limit=7&cursor=${first.body.next}`,
    )
    expect(
      second.body.tasks.map((t) => t.id).some((id) => first.body.tasks.some((t) => t.id === id)),
    ).toBe(false)
  })
  it('a change says which it was, and is taken back by that', async () => {
    const manager = await as('manager')
    const ids = (await manager<Page>('GET', '/api/v1/tasks?limit=3')).body.tasks.map((t) => t.id)
    const done = await manager<{ count: number; change: number }>('POST', '/api/v1/tasks/bulk', {
      ids,
      set: { priority: 'urgent' },
    })
    expect(done.headers.get('fernwick-change')).toBe(String(done.body.change))
    expect(
      (await manager('GET', '/api/v1/tasks?limit=3')).headers.get('fernwick-change'),
    ).toBeNull()
    const member = await as('member')
    expect((await member('POST', `/api/v1/changes/${done.body.change}/undo`)).status).toBe(403)
    expect((await manager('POST', `/api/v1/changes/${done.body.change}/undo`)).status).toBe(200)
    expect((await manager('POST', `/api/v1/changes/${done.body.change}/undo`)).body).toMatchObject({
      status: 412,
      code: 'changed-since',
    })
    expect((await manager('POST', '/api/v1/tasks/bulk', { ids })).body.detail).toMatch(
      /say what to change/,
    )
  })
  it('files come back as data that cannot run; too large and odd ones are refused', async () => {
    const manager = await as('manager')
    const { body: task } = await manager<{ id: number }>('POST', '/api/v1/tasks', {
      title: 'With a file',
    })
    const sent = await manager<{ id: number }>(
      'POST',
      `/api/v1/tasks/${task.id}/files?name=${encodeURIComponent('n ö(te).txt')}`,
      new TextEncoder().encode('<script>alert(1)</script>'),
    )
    expect(sent.status).toBe(201)
    const shown = await manager<string>('GET', `/api/v1/files/${sent.body.id}`)
    expect([
      shown.headers.get('content-type'),
      shown.headers.get('x-content-type-options'),
    ]).toEqual(['text/plain; charset=utf-8', 'nosniff'])
    expect(shown.headers.get('content-security-policy')).toMatch(/default-src 'none'.*sandbox/)
    expect(shown.headers.get('content-disposition')).toBe(
      "inline; filename*=UTF-8''n%20%C3%B6%28te%29.txt",
    )
    expect(
      (await manager('GET', `/api/v1/files/${sent.body.id}?save`)).headers.get(
        'content-disposition',
      ),
    ).toMatch(/^attachment/)
    expect((await (await as('contractor'))('GET', `/api/v1/files/${sent.body.id}`)).status).toBe(
      404,
    )
    expect(
      (
        await manager(
          'POST',
          `/api/v1/tasks/${task.id}/files?name=a.txt`,
          new Uint8Array(26 * 1024 * 1024),
        )
      ).status,
    ).toBe(413)
  })
  it('guests read no journal, views or set-up, and change nothing in bulk', async () => {
    const guest = await as('contractor')
    for (const path of ['/changes', '/views', '/state-sets', '/fields', '/tags'])
      expect((await guest('GET', `/api/v1${path}`)).status, path).toBe(403)
    for (const [path, body] of [
      ['/tasks/bulk', { ids: [1], set: { priority: 'low' } }],
      ['/tasks/edits', { edits: [], make: [{ title: 'x' }] }],
      [
        '/views',
        {
          name: 'x',
          shared: true,
          definition: {
            kind: 'list',
            scope: { of: 'firm' },
            filter: { match: 'all', of: [] },
            sort: [],
            group: null,
            columns: [],
            colour: null,
            tree: false,
            step: 'month',
          },
        },
      ],
      ['/projects', { name: 'x', clientId: null }],
      ['/tags', { name: 'x', colour: 'teal' }],
      [
        '/fields',
        { name: 'x', kind: 'text', options: {}, projectId: null, templateId: null, hidden: false },
      ],
    ] as const)
      expect((await guest('POST', `/api/v1${path}`, body)).status, path).toBe(403)
    const found = await guest<
      { directory?: unknown } & { projects: unknown[]; fields: unknown[]; people: unknown[] }
    >('GET', '/api/v1/directory')
    expect([found.body.projects, found.body.fields, found.body.people.length]).toEqual([[], [], 1])
  })
  it('a view is changed by its owner, or a manager when it is shared; pins are one’s own', async () => {
    const [manager, member] = [await as('manager'), await as('member')]
    const definition = {
      kind: 'board',
      scope: { of: 'firm' },
      filter: { match: 'all', of: [] },
      sort: [],
      group: 'state',
      columns: [],
      colour: null,
      tree: false,
      step: 'month',
    }
    const { body: view } = await manager<{ id: number; version: number }>('POST', '/api/v1/views', {
      name: 'Private',
      shared: false,
      definition,
    })
    expect(
      (await member('PUT', `/api/v1/views/${view.id}`, { name: 'Mine', shared: true, definition }))
        .status,
    ).toBe(404)
    await manager('PUT', `/api/v1/views/${view.id}`, { name: 'Public', shared: true, definition })
    expect(
      (await member('PUT', `/api/v1/views/${view.id}`, { name: 'Mine', shared: true, definition }))
        .status,
    ).toBe(403)
    expect(
      (await member<{ pinned: boolean }>('POST', `/api/v1/views/${view.id}/pin`, { on: true })).body
        .pinned,
    ).toBe(true)
    expect(
      (await manager<{ id: number; pinned: boolean }[]>('GET', '/api/v1/views')).body.find(
        (v) => v.id === view.id,
      )!.pinned,
    ).toBe(false)
    expect(
      (
        await manager(
          'PUT',
          `/api/v1/views/${view.id}`,
          { name: 'Old', shared: true, definition },
          { 'If-Match': '"1"' },
        )
      ).status,
    ).toBe(412)
    expect((await manager('DELETE', `/api/v1/views/${view.id}`)).status).toBe(204)
  })
})

describe('how long records are kept', () => {
  const GOOD = { journal: null, runs: null, notices: null, mail: null }
  it('is said by managers, seen by members, and no business of guests', async () => {
    const [manager, member, guest] = [
      await as('manager'),
      await as('member'),
      await as('contractor'),
    ]
    expect((await manager('GET', '/api/v1/retention')).body).toEqual(GOOD)
    const put = await manager<unknown>('PUT', '/api/v1/retention', { ...GOOD, runs: 365 })
    expect(put).toMatchObject({ status: 200, body: { ...GOOD, runs: 365 } })
    expect((await member('GET', '/api/v1/retention')).body).toEqual({ ...GOOD, runs: 365 })
    expect((await member('PUT', '/api/v1/retention', GOOD)).status).toBe(403)
    expect((await guest('GET', '/api/v1/retention')).status).toBe(403)
    expect((await client()('GET', '/api/v1/retention')).status).toBe(401)
    const undone = await manager(
      'POST',
      `/api/v1/changes/${put.headers.get('fernwick-change')}/undo`,
    )
    expect(undone.status).toBe(200)
    expect((await manager('GET', '/api/v1/retention')).body).toEqual(GOOD)
  })
  it.each([
    ['fewer days than thirty', { ...GOOD, journal: 29 }, 'journal'],
    ['no days', { ...GOOD, runs: 0 }, 'runs'],
    ['days before the first', { ...GOOD, mail: -90 }, 'mail'],
    ['part of a day', { ...GOOD, notices: 90.5 }, 'notices'],
    ['longer than ten years', { ...GOOD, journal: 1e15 }, 'journal'],
    ['something else', { ...GOOD, journal: 'for ever' }, 'journal'],
    ['not all of them', { journal: 90 }, 'runs'],
    ['one that there is not', { ...GOOD, tasks: 90 }, 'tasks'],
  ])('refuses %s, and names the place', async (_, body, place) => {
    const answer = await (await as('manager'))('PUT', '/api/v1/retention', body)
    expect(answer).toMatchObject({ status: 400, body: { code: 'bad-request', place } })
  })
})
