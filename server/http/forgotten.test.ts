import { describe, expect, it } from 'vitest'
import { PASSWORD } from '#demo/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { ENGINE, london } from '../test/lab.ts'

const { client, house } = serveDemo(london('2026-11-23T12:00'))
const email = 'tobias.okonjo@quillhaven.example'
const next = 'heron-on-the-weir'
const later = (ms: number) =>
  client()('POST', `/api/test/clock?to=${house.server.engine.clock.now() + ms}`)
const mails = () =>
  house.server.db.sqlite
    .prepare(
      "select recipient, body from outbox where subject like 'Another password%' order by id",
    )
    .all() as { recipient: string; body: string }[]
const keyIn = (body: string) => /new-password\?key=(\S+)/.exec(body)![1]!
const ask = (to: string, headers = {}) =>
  client()('POST', '/api/v1/forgotten', { email: to }, headers)
const set = (key: string, password = next) =>
  client()('POST', '/api/v1/forgotten/password', { key, password })
const signIn = (password: string) => client()('POST', '/api/v1/session', { email, password })

describe('a forgotten password', () => {
  it('sends no link while the server does not know where it is opened', async () => {
    const answer = await ask(email)
    expect([answer.status, answer.body.code]).toEqual([422, 'no-address'])
    const { body } = await client()<{ mayForget: boolean }>('GET', '/api/v1/session')
    expect(body.mayForget).toBe(false)
  })
  it('is answered the same whoever asks, and leads where the firm says, whatever the request says', async () => {
    house.server.engine.journal.change(ENGINE, (write) =>
      write.update('firm', 1, { address: 'https://work.quillhaven.example' }),
    )
    const forged = { 'X-Forwarded-Host': 'evil.example' }
    expect((await ask('Tobias.Okonjo@quillhaven.example', forged)).status).toBe(204)
    expect((await ask('nobody@quillhaven.example')).status).toBe(204)
    expect(mails()).toHaveLength(1)
    expect(mails()[0]!.recipient).toBe(email)
    expect(mails()[0]!.body).toContain('https://work.quillhaven.example/new-password?key=')
    expect(mails()[0]!.body).not.toContain('evil')
  })
  it('its link opens once; every browser is out, and the old password is none', async () => {
    const first = await signIn(PASSWORD)
    const at = client(first.headers.get('set-cookie')!.split(';')[0])
    const key = keyIn(mails()[0]!.body)
    const shown = await client()<{ email: string }>('GET', `/api/v1/forgotten?key=${key}`)
    expect(shown.body.email).toBe(email)
    expect((await set(key, 'short')).status).toBe(400)
    expect((await set(key)).status).toBe(204)
    expect((await at('GET', '/api/v1/me')).status).toBe(401)
    expect((await signIn(PASSWORD)).status).toBe(401)
    expect((await signIn(next)).status).toBe(200)
    expect((await set(key)).status).toBe(404)
  })
  it('runs out within an hour, gives way to a newer one, and is not for who has left', async () => {
    await ask(email)
    const old = keyIn(mails().at(-1)!.body)
    await ask(email)
    const newer = keyIn(mails().at(-1)!.body)
    expect(newer).not.toBe(old)
    expect((await set(old)).status).toBe(404)
    await later(3_600_001)
    expect((await set(newer)).status).toBe(404)
    house.server.db.sqlite.prepare('update people set active = 0 where email = ?').run(email)
    const before = mails().length
    expect((await ask(email)).status).toBe(204)
    expect(mails()).toHaveLength(before)
    house.server.db.sqlite.prepare('update people set active = 1 where email = ?').run(email)
  })
  it('three mails an hour at most go to one account, and the link is in no journal', async () => {
    const before = mails().length
    for (let i = 0; i < 5; i++) expect((await ask(email)).status).toBe(204)
    expect(mails().length - before).toBeLessThanOrEqual(3)
    const rows = house.server.db.sqlite.prepare('select before, after from journal').all()
    for (const { body } of mails()) expect(JSON.stringify(rows)).not.toContain(keyIn(body))
  })
})
