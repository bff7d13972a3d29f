import ICAL from 'ical.js'
import { expect, it } from 'vitest'
import type { MadeFeed } from '#contract/feeds.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as, house } = serveDemo(london('2026-11-23T12:00'))
const asked = (path: string) => fetch(house.base + path)

it('a calendar program subscribes by the address alone, until it is reset', async () => {
  const member = await as('member')
  const make = async () =>
    (await member<MadeFeed>('POST', '/api/v1/feeds', { of: 'person' })).body as MadeFeed
  const { path } = await make()
  const answer = await asked(path)
  expect(answer.status).toBe(200)
  expect(answer.headers.get('content-type')).toMatch(/^text\/calendar/)
  expect(answer.headers.get('cache-control')).toContain('no-store')
  const calendar = new ICAL.Component(ICAL.parse(await answer.text()))
  const events = calendar.getAllSubcomponents('vevent')
  expect(events.length).toBeGreaterThan(5)
  const uids = events.map((one) => String(one.getFirstPropertyValue('uid')))
  expect(new Set(uids).size).toBe(uids.length)
  await make()
  expect((await asked(path)).status).toBe(404)
  expect((await asked('/feeds/guessed.ics')).status).toBe(404)
  expect((await asked(`/feeds/${'x'.repeat(5_000)}.ics`)).status).toBe(404)
})
it('a client’s and a project’s are made by whoever sees them', async () => {
  const [member, client] = [await as('member'), await as('client')]
  const feed = await member<MadeFeed>('POST', '/api/v1/feeds', { of: 'client', item: 1 })
  expect(feed.status).toBe(201)
  expect(await (await asked((feed.body as MadeFeed).path)).text()).toContain('Expected: ')
  expect((await client('POST', '/api/v1/feeds', { of: 'client', item: 1 })).status).toBe(403)
  expect((await client('POST', '/api/v1/feeds', { of: 'project', item: 99_999 })).status).toBe(404)
  expect((await member('POST', '/api/v1/feeds', { of: 'project' })).status).toBe(400)
})
