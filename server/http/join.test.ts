import { expect, it } from 'vitest'
import type { Invitation, Invited } from '#contract/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as, client } = serveDemo(london('2026-11-23T12:00'))

it('whoever has the link of an invitation chooses a password and is in; once', async () => {
  const manager = await as('manager')
  const { body: made } = await manager<Invited[]>('POST', '/api/v1/people', {
    people: [{ name: 'Ines Corbet', email: 'Ines@Sallowfield.example', access: 'member' }],
    address: 'https://fernwick.example',
  })
  for (const address of ['http://999.999.999.999', 'javascript:alert(1)', 'fernwick.example']) {
    const { status } = await manager('POST', `/api/v1/people/${made[0]!.id}/invite`, { address })
    expect(status, address).toBe(400)
  }
  const key = new URL(made[0]!.link).searchParams.get('key')!
  const stranger = client()
  const { body } = await stranger<Invitation>('GET', `/api/v1/join?key=${key}`)
  expect(body).toMatchObject({ firm: 'Quillhaven', name: 'Ines Corbet' })
  const join = (password: string, by = key) =>
    stranger<{ name: string; detail: string }>('POST', '/api/v1/join', { key: by, password })
  expect((await join('short')).body.detail).toContain('Password is too short')
  expect((await join('heron-on-the-weir', 'wrong')).status).toBe(404)
  const both = await Promise.all([join('heron-on-the-weir'), join('heron-on-the-weir')])
  expect(both.map((a) => a.status).sort()).toEqual([200, 404])
  expect((await join('heron-on-the-weir')).status).toBe(404)
  const email = 'ines@sallowfield.example'
  const signIn = await stranger<{ access: string }>('POST', '/api/v1/session', {
    ...{ email, password: 'heron-on-the-weir' },
  })
  expect([signIn.status, signIn.body.access]).toEqual([200, 'member'])
})
it('people and their addresses are for managers', async () => {
  for (const who of ['member', 'contractor', 'client']) {
    const their = await as(who)
    expect((await their('GET', '/api/v1/people')).status, who).toBe(403)
    expect((await their('POST', '/api/v1/people', {})).status, who).toBe(403)
    expect((await their('PATCH', '/api/v1/people/1', { access: 'owner' })).status, who).toBe(403)
  }
  const manager = await as('manager')
  expect((await manager('GET', '/api/v1/people')).status).toBe(200)
})
