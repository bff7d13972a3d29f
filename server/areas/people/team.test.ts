import { describe, expect, it } from 'vitest'
import { isoDate } from '#core/calendar/dates.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { makeTask } from '../tasks/service.ts'
import { addTimeOff } from './page.ts'
import { editPerson } from './service.ts'
import { leastLoaded, nextInTurn, teamOf } from './team.ts'

const work = (l: Lab, person: number, due: string, estimate: number) =>
  makeTask(l.engine, l.imogen, { title: 'T', due, estimate, assignees: [person] })
const least = (l: Lab, day: string) =>
  leastLoaded(l.engine, teamOf(l.engine.reader, l.team), isoDate(day))

describe('whoever of a team has least to do', () => {
  it('has the smallest share of that week booked, which is said', () => {
    const l = lab()
    // Eight hours of thirty-seven and a half; three of seven and a half.
    work(l, l.tobias.id, '2026-11-27', 480)
    editPerson(l.engine, l.imogen, l.devika.id, { hours: { TH: 450 } })
    work(l, l.devika.id, '2026-11-26', 180)
    expect(least(l, '2026-11-23')).toEqual({
      id: l.tobias.id,
      why: 'Tobias: 8h of 37h 30m that week; Devika: 3h of 7h 30m that week',
    })
  })
  it('is not away on the day; over a weekend, the week that comes counts', () => {
    const l = lab({ now: '2026-11-28T12:00' })
    work(l, l.tobias.id, '2026-12-01', 60)
    expect(least(l, '2026-11-28')).toMatchObject({ id: l.devika.id })
    const off = { firstDay: '2026-11-28', lastDay: '2026-11-30' }
    addTimeOff(l.engine, l.imogen, l.devika.id, off)
    expect(least(l, '2026-11-28')).toEqual({
      id: l.tobias.id,
      why: 'Tobias: 1h of 37h 30m that week; Devika is away',
    })
  })
  it('is whoever is there at all where everybody is away; nobody in a team of nobody', () => {
    const l = lab()
    for (const { id } of [l.tobias, l.devika])
      addTimeOff(l.engine, l.imogen, id, { firstDay: '2026-11-23', lastDay: '2026-11-23' })
    expect(least(l, '2026-11-23')).toMatchObject({ id: l.tobias.id })
    for (const { id } of [l.tobias, l.devika]) editPerson(l.engine, l.imogen, id, { active: false })
    expect(least(l, '2026-11-23')).toBeNull()
    expect(
      nextInTurn(l.engine, teamOf(l.engine.reader, l.team), isoDate('2026-11-23'), null),
    ).toBeNull()
  })
})

it('whose turn it is comes after who was last, round and round, but for who is away', () => {
  const l = lab()
  const next = (last: number | null) =>
    nextInTurn(l.engine, teamOf(l.engine.reader, l.team), isoDate('2026-11-23'), last)
  expect(next(null)!.id).toBe(l.tobias.id)
  expect(next(l.tobias.id)!.id).toBe(l.devika.id)
  expect(next(l.devika.id)).toEqual({
    id: l.tobias.id,
    why: 'Tobias is next in turn, after Devika',
  })
  addTimeOff(l.engine, l.imogen, l.tobias.id, { firstDay: '2026-11-23', lastDay: '2026-11-23' })
  expect(next(l.devika.id)).toMatchObject({
    id: l.devika.id,
    why: expect.stringMatching(/Tobias is away/),
  })
})
