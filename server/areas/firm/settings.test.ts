import { describe, expect, it } from 'vitest'
import { isWorkingDay } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { firmPatch, mailBody } from '#contract/firm.ts'
import type { RuleBody } from '#contract/rules.ts'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeRule, switchRule } from '../rules/service.ts'
import { makeSeries } from '../series/service.ts'
import { makeTask } from '../tasks/service.ts'
import { dropMail, editFirm, firmSheet, moveFirm, setMail } from './settings.ts'

const owner = (l: Lab) => ({ ...l.imogen, access: 'owner' as const })
const MAIL = {
  ...{ host: 'mail.example.org', port: 587, security: 'starttls' as const, user: 'quill' },
  ...{ password: 'lichen', from: 'Quillhaven <post@quillhaven.example>' },
}

describe('what a firm says of itself', () => {
  it('is changed by managers, as one change that is taken back; hours say which days are worked', () => {
    const l = lab()
    const hours = { MO: 480, TU: 480, SA: 240 }
    const { result, change } = editFirm(l.engine, l.imogen, { name: 'Quillhaven & Co', hours })
    expect(result).toMatchObject({ name: 'Quillhaven & Co', hours })
    const works = (date: string) => isWorkingDay(l.engine.firm.calendar(), isoDate(date))
    const week = ['2026-11-25', '2026-11-28', '2026-11-30']
    expect(week.map(works)).toEqual([false, true, true])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(firmSheet(l.engine, l.imogen).name).toBe('Quillhaven')
    expect(week.map(works)).toEqual([true, false, true])
    expect(() => editFirm(l.engine, l.tobias, { name: 'Mine' })).toThrow(/Only a manager/)
  })
  it('owners alone say where it is opened, what is believed and who shows codes', () => {
    const l = lab()
    for (const patch of [
      { address: 'https://work.example' },
      { proxies: 1 },
      { demandsCodes: true },
    ])
      expect(() => editFirm(l.engine, l.imogen, patch)).toThrow(/Only an owner/)
    editFirm(l.engine, owner(l), { address: 'https://work.example', proxies: 1 })
    expect(l.engine.address?.href).toBe('https://work.example/')
    expect(l.engine.firm.proxies()).toBe(1)
  })
  it.each([
    { zone: 'Mars/Olympus' },
    { currency: 'pounds' },
    { hours: {} },
    { hours: { MO: 1441 } },
    { address: 'javascript:alert(1)' },
    { address: 'work.example' },
    { proxies: 10 },
    {},
  ])('%j is not taken', (body) => {
    expect(firmPatch.validate(body, { convert: false }).error).toBeDefined()
  })
  it('another place brings its holidays from today on; what was before stays', async () => {
    const l = lab()
    const before = l.rows('select date from holidays where date < ?', '2026-11-23')
    const { change } = await moveFirm(l.engine, l.imogen, { country: 'GB', region: 'SCT' })
    // St Andrew's Day is a holiday of Scotland, where Boxing Day 2026 is kept on the Monday.
    const days = l.rows<{ date: string }>('select date from holidays').map(({ date }) => date)
    expect(days).toContain('2026-11-30')
    expect(days).toContain('2026-12-28')
    expect(l.rows('select date from holidays where date < ?', '2026-11-23')).toEqual(before)
    undoChange(l.engine, l.imogen, change!).whole()
    expect(l.rows('select date from holidays')).toHaveLength(3)
    await expect(moveFirm(l.engine, l.imogen, { country: 'XX', region: null })).rejects.toThrow(
      /XX/,
    )
  })
})

describe('other working days, or another zone', () => {
  it('move rungs that have not fired, and what series have not made', () => {
    const l = lab()
    const body: RuleBody = {
      ...{ name: 'Late', ownerId: l.imogen.id },
      definition: LADDER({ team: l.team, boss: l.imogen.id }),
    }
    const rule = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, rule.id, { on: true })
    makeTask(l.engine, l.imogen, { title: 'Post', due: '2026-11-24', assignees: [l.tobias.id] })
    makeSeries(l.engine, l.imogen, {
      ...{ name: 'Rota', leadDays: 1 },
      schedule: { start: '2026-11-26', rule: 'FREQ=WEEKLY', roll: 'none' },
      makes: {
        ...{ kind: 'task', title: 'Rota', description: '', clientId: null, projectId: null },
        ...{ assignees: [], estimate: null, checklist: [], period: { of: 'month', which: 'in' } },
      },
    } as never)
    l.runner.tick()
    const at = (kind: string) =>
      new Date(
        l.rows<{ at: number }>('select at from alarms where kind = ?', kind)[0]!.at,
      ).toISOString()
    const rung = at('ladder')
    expect(at('series')).toBe('2026-11-25T06:00:00.000Z')
    const { change } = editFirm(l.engine, l.imogen, { zone: 'America/New_York' })
    l.runner.tick()
    expect(at('series')).toBe('2026-11-25T11:00:00.000Z')
    expect(Date.parse(at('ladder')) - Date.parse(rung)).toBe(5 * 3_600_000)
    undoChange(l.engine, l.imogen, change!).whole()
    l.runner.tick()
    expect([at('ladder'), at('series')]).toEqual([rung, '2026-11-25T06:00:00.000Z'])
    // Wednesdays are free now: what is made a working day ahead is made on Tuesday.
    editFirm(l.engine, l.imogen, { hours: { MO: 450, TU: 450, TH: 450, FR: 450 } })
    l.runner.tick()
    expect(at('series')).toBe('2026-11-24T06:00:00.000Z')
    expect(at('ladder')).toBe('2026-11-26T09:00:00.000Z')
  })
})

describe('the mail server', () => {
  it('is an owner’s to name; its password is shown to nobody, and is in no journal', () => {
    const l = lab()
    expect(() => setMail(l.engine, l.imogen, MAIL)).toThrow(/Only an owner/)
    const { result } = setMail(l.engine, owner(l), MAIL)
    const { password: _, ...shown } = MAIL
    expect(result.mail).toEqual({ ...shown, hasPassword: true })
    expect(JSON.stringify(l.rows('select * from journal'))).not.toContain('lichen')
  })
  it('keeps its password where none is given, and hands it to no other server', () => {
    const l = lab()
    const { password: _, ...same } = MAIL
    const kept = () => l.rows<{ password: string }>('select password from mailServer')[0]?.password
    setMail(l.engine, owner(l), MAIL)
    setMail(l.engine, owner(l), { ...same, port: 465 })
    expect(kept()).toBe('lichen')
    setMail(l.engine, owner(l), { ...same, host: 'elsewhere.example.org' })
    expect(kept()).toBe('')
    expect(dropMail(l.engine, owner(l)).result.mail).toBeNull()
  })
  it.each(['', 'two words', 'a/b', 'x\r\ny'])('“%s” is no host', (host) => {
    expect(mailBody.validate({ ...MAIL, host }).error).toBeDefined()
  })
  it('who mails are from has no line breaks', () => {
    expect(
      mailBody.validate({ ...MAIL, from: 'a@b.example\r\nBcc: c@d.example' }).error,
    ).toBeDefined()
  })
})
