import { describe, expect, it } from 'vitest'
import { workingMinutes } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { NewTimeOff, PersonPatch } from '#contract/people.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { directory } from './directory.ts'
import { addTimeOff, personPage, removeTimeOff } from './page.ts'
import { editPerson } from './service.ts'

const edit = (l: Lab, of: Viewer, patch: PersonPatch) =>
  editPerson(l.engine, l.imogen, of.id, patch)
const off = (l: Lab, of: Viewer, body: Partial<NewTimeOff> = {}, by = l.imogen) =>
  addTimeOff(l.engine, by, of.id, { firstDay: '2026-11-24', lastDay: '2026-11-25', ...body })
const minutes = (l: Lab, of: Viewer, date: string) =>
  workingMinutes(l.engine.firm.calendarOf(of.id), isoDate(date))

describe('managers and stand-ins', () => {
  it('are named, shown both ways, and undone', () => {
    const l = lab()
    const { change } = edit(l, l.tobias, { managerId: l.imogen.id, standInId: l.devika.id })
    expect(personPage(l.engine, l.imogen, l.tobias.id)).toMatchObject({
      ...{ managerId: l.imogen.id, standInId: l.devika.id },
    })
    expect(personPage(l.engine, l.imogen, l.imogen.id).answering).toEqual([
      { id: l.tobias.id, name: 'Tobias' },
    ])
    expect(personPage(l.engine, l.devika, l.devika.id).standsInFor).toEqual([
      { id: l.tobias.id, name: 'Tobias' },
    ])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(personPage(l.engine, l.imogen, l.tobias.id).managerId).toBeNull()
  })
  it('never close a ring, which is named; nobody is their own', () => {
    const l = lab()
    edit(l, l.tobias, { standInId: l.devika.id })
    edit(l, l.devika, { standInId: l.imogen.id })
    expect(() => edit(l, l.imogen, { standInId: l.tobias.id })).toThrow(
      'Imogen → Tobias → Devika → Imogen',
    )
    expect(codeOf(() => edit(l, l.tobias, { managerId: l.tobias.id }))).toBe('ring')
  })
  it('are people who are here, no guests as managers, no client’s contact for others', () => {
    const l = lab()
    expect(codeOf(() => edit(l, l.tobias, { managerId: l.corrie.id }))).toBe('unfit')
    expect(codeOf(() => edit(l, l.tobias, { standInId: 999 }))).toBe('unfit')
    edit(l, l.devika, { active: false })
    expect(codeOf(() => edit(l, l.tobias, { standInId: l.devika.id }))).toBe('unfit')
    const contact = l.engine.journal.change({ kind: 'engine', id: null }, (write) =>
      write.insert('people', {
        ...{ name: 'Hester', email: 'h@m.example', access: 'client', clientId: l.client },
      }),
    ).result
    expect(codeOf(() => edit(l, l.tobias, { standInId: contact }))).toBe('unfit')
  })
})

describe('time off', () => {
  it('takes whole days, halves or hours out of what somebody can do, and is undone', () => {
    const l = lab()
    const { change } = off(l, l.tobias)
    expect(minutes(l, l.tobias, '2026-11-24')).toBe(0)
    undoChange(l.engine, l.imogen, change!).whole()
    expect(minutes(l, l.tobias, '2026-11-24')).toBe(450)
    off(l, l.tobias, { half: true })
    expect(minutes(l, l.tobias, '2026-11-25')).toBe(225)
    off(l, l.tobias, { minutes: 60 })
    expect(minutes(l, l.tobias, '2026-11-25')).toBe(165)
    const { timeOff } = personPage(l.engine, l.imogen, l.tobias.id)
    for (const { id } of timeOff) removeTimeOff(l.engine, l.imogen, l.tobias.id, id)
    expect(minutes(l, l.tobias, '2026-11-25')).toBe(450)
    expect(minutes(l, l.devika, '2026-11-24')).toBe(450)
  })
  it('is entered by oneself or a manager, for nobody else', () => {
    const l = lab()
    expect(codeOf(() => off(l, l.tobias, {}, l.tobias))).toBe('done')
    const { timeOff } = personPage(l.engine, l.tobias, l.tobias.id)
    const away = (by: Viewer) => () => removeTimeOff(l.engine, by, l.tobias.id, timeOff[0]!.id)
    expect(codeOf(() => off(l, l.tobias, {}, l.devika))).toBe('forbidden')
    expect(codeOf(away(l.devika))).toBe('forbidden')
    expect(codeOf(() => personPage(l.engine, l.devika, l.tobias.id))).toBe('forbidden')
    // Under one’s own number, what is another’s is not there.
    const others = () => removeTimeOff(l.engine, l.devika, l.devika.id, timeOff[0]!.id)
    expect(codeOf(others)).toBe('not-found')
    expect(codeOf(away(l.tobias))).toBe('done')
  })
  it.each([
    [{ firstDay: '2026-11-26' }, 'ends-before'],
    [{ lastDay: '2029-11-25' }, 'too-long'],
    [{ firstDay: '2026-02-30' }, 'bad-date'],
    [{ half: true, minutes: 30 }, 'half-and-hours'],
  ])('%o is %s', (body, is) => {
    const l = lab()
    expect(codeOf(() => off(l, l.tobias, body))).toBe(is)
  })
  it('shows in the directory while all of today is off, until its last day', () => {
    const l = lab()
    off(l, l.tobias, { firstDay: '2026-11-23' })
    off(l, l.devika, { firstDay: '2026-11-23', half: true })
    const away = () =>
      directory(l.engine, l.imogen).people.flatMap(({ name, awayUntil }) =>
        awayUntil ? [[name, awayUntil]] : [],
      )
    expect(away()).toEqual([['Tobias', '2026-11-25']])
    l.clock.set(l.clock.now() + 3 * 86_400_000)
    expect(away()).toEqual([])
  })
  it('hours of one’s own are those of the firm again when they are taken back', () => {
    const l = lab()
    edit(l, l.tobias, { hours: { TU: 300 } })
    expect([minutes(l, l.tobias, '2026-11-24'), minutes(l, l.tobias, '2026-11-25')]).toEqual([
      300, 0,
    ])
    edit(l, l.tobias, { hours: null })
    expect(minutes(l, l.tobias, '2026-11-25')).toBe(450)
  })
})
