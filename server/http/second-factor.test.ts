import { Secret, TOTP } from 'otpauth'
import { describe, expect, it } from 'vitest'
import { PASSWORD } from '#demo/people.ts'
import type { SecondFactor, SecondSecret } from '#contract/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { ENGINE, london } from '../test/lab.ts'

const NOW = london('2026-11-23T12:00')
const { client, house } = serveDemo(NOW)
const engine = () => house.server.engine
const now = () => engine().clock.now()
const email = 'tobias.okonjo@quillhaven.example'
interface Problem {
  readonly code: string
  readonly detail: string
}
async function signIn(more: object = {}, as = email) {
  const answer = await client()<Problem>('POST', '/api/v1/session', {
    ...{ email: as, password: PASSWORD },
    ...more,
  })
  const cookie = answer.headers.get('set-cookie')?.split(';')[0]
  return { status: answer.status, code: answer.body?.code, at: client(cookie) }
}
const codeOf = (secret: string) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: now() })
const later = (seconds: number) => client()('POST', `/api/test/clock?to=${now() + seconds * 1000}`)

describe('a second device', () => {
  let secret = ''
  let paper: string[] = []
  it('is put in force by the password and a first code of it', async () => {
    const { at } = await signIn()
    const begin = (password: string) =>
      at<SecondSecret & Problem>('POST', '/api/v1/second-factor', { password })
    expect((await begin('guess')).status).toBe(422)
    const begun = (await begin(PASSWORD)).body
    secret = begun.secret
    expect(begun.address).toContain(`secret=${secret}`)
    const confirm = (code: string) =>
      at<string[] & Problem>('POST', '/api/v1/second-factor/confirm', { code })
    expect((await confirm('000000')).body.code).toBe('not-the-code')
    // Not in force yet: nobody is shut out by what was only begun.
    expect((await signIn()).status).toBe(200)
    paper = (await confirm(codeOf(secret))).body
    expect(paper).toHaveLength(10)
    const sheet = (await at<SecondFactor>('GET', '/api/v1/second-factor')).body
    expect(sheet).toEqual({ since: now(), codesLeft: 10, demanded: false })
    expect((await begin(PASSWORD)).body.code).toBe('in-force')
  })
  it('is asked for at the door; a code is good once, and so is one on paper', async () => {
    expect(await signIn()).toMatchObject({ status: 401, code: 'code-needed' })
    expect(await signIn({ code: '123456' })).toMatchObject({ status: 401, code: 'wrong-code' })
    // The first code was taken as it was put in force.
    expect(await signIn({ code: codeOf(secret) })).toMatchObject({ code: 'wrong-code' })
    await later(30)
    const code = codeOf(secret)
    expect((await signIn({ code })).status).toBe(200)
    expect(await signIn({ code })).toMatchObject({ status: 401, code: 'wrong-code' })
    const [first = ''] = paper
    expect((await signIn({ code: first.toUpperCase().replaceAll('-', ' ') })).status).toBe(200)
    expect(await signIn({ code: first })).toMatchObject({ code: 'wrong-code' })
    // A code without the password says nothing of itself.
    await later(30)
    expect(await signIn({ code: codeOf(secret), password: 'wrong' })).toMatchObject({
      code: 'wrong-password',
    })
  })
  it('codes cannot be guessed: after ten tries one waits, whichever they are', async () => {
    await later(60)
    const statuses: number[] = []
    for (let i = 0; i < 12; i++) statuses.push((await signIn({ code: `00000${i % 10}` })).status)
    expect(statuses.at(-1)).toBe(429)
    expect((await signIn({ code: codeOf(secret) })).status).toBe(429)
  })
  it('who has lost it is let in again by a manager, an owner by an owner', async () => {
    const imogen = await signIn({}, 'imogen.achterberg@quillhaven.example')
    const people = (
      await imogen.at<{ id: number; email: string; secondDevice: boolean }[]>(
        'GET',
        '/api/v1/people',
      )
    ).body
    const lost = people.find((person) => person.email === email)!
    expect(people.filter((person) => person.secondDevice)).toEqual([lost])
    const owner = people.find((person) => person.email.startsWith('casper'))!
    const off = (id: number) => imogen.at('DELETE', `/api/v1/people/${id}/second-factor`)
    expect((await off(owner.id)).status).toBe(422)
    expect((await off(99_999)).status).toBe(404)
    expect((await off(lost.id)).status).toBe(204)
    await client()('POST', `/api/test/clock?to=${now() + 1000}`)
    const again = (
      await imogen.at<{ id: number; secondDevice: boolean }[]>('GET', '/api/v1/people')
    ).body
    expect(again.some((person) => person.secondDevice)).toBe(false)
  })
  it('its secret and its codes are in no journal', () => {
    const rows = house.server.db.sqlite.prepare('select before, after from journal').all()
    const kept = JSON.stringify(rows)
    expect(kept).not.toContain(secret)
    for (const code of paper) expect(kept).not.toContain(code)
  })
})

describe('a firm that demands codes', () => {
  it('shows nothing else to who has none yet, but for guests', async () => {
    const manager = await signIn({}, 'imogen.achterberg@quillhaven.example')
    const guest = await signIn({}, 'corrie.engineering@contractor.example')
    const ask = (who: typeof manager) => who.at<Problem>('GET', '/api/v1/projects')
    expect((await ask(manager)).status).toBe(200)
    engine().journal.change(ENGINE, (write) =>
      write.update('firm', 1, { demandsCodes: true, demo: false }),
    )
    expect((await ask(manager)).body.code).toBe('codes-demanded')
    expect((await manager.at('GET', '/api/v1/live')).status).toBe(403)
    const together = await manager.at('GET', '/api/v1/together?of=/projects')
    expect(JSON.stringify(together.body)).toContain('codes-demanded')
    expect(JSON.stringify(together.body)).not.toContain('Mossgate')
    const me = (await manager.at<{ lacksCode: boolean }>('GET', '/api/v1/me')).body
    expect(me.lacksCode).toBe(true)
    expect((await ask(guest)).status).toBe(200)
    const begun = await manager.at<SecondSecret>('POST', '/api/v1/second-factor', {
      password: PASSWORD,
    })
    await manager.at('POST', '/api/v1/second-factor/confirm', { code: codeOf(begun.body.secret) })
    expect((await ask(manager)).status).toBe(200)
    engine().journal.change(ENGINE, (write) =>
      write.update('firm', 1, { demandsCodes: false, demo: true }),
    )
  })
})
