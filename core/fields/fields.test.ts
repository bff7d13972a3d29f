import { describe, expect, it } from 'vitest'
import { fieldsOf, register, taskField, unregister, walkedFields } from './catalogue.ts'
import type { TaskFacts } from './facts.ts'
import { beforeOf, field, heldValue, isSettable, type Field } from './field.ts'
import { editOf, isChosen, joined, keptValue, parseEdit } from './parse.ts'
import { inBox, sayMoment, sayOf, sayValue } from './say.ts'
import { FIELD_TYPES, type FieldType } from './types.ts'
import { sayTime } from '../text/speak.ts'

const at = { today: '2026-11-23', zone: 'Europe/London' }
const named = (name: string) => taskField(name)!
const own = (type: FieldType, more: object = {}): Field<'task'> =>
  field('task', { name: 'x', label: 'X', type, plain: true, ...more })

describe('the catalogue', () => {
  it('has no two fields that people could take for one another', () => {
    for (const fields of [fieldsOf('task'), walkedFields()]) {
      const labels = fields.map(({ label }) => label)
      expect(labels.filter((label, i) => labels.indexOf(label) !== i)).toEqual([])
    }
    const keys = fieldsOf('task').flatMap(({ key }) => key ?? [])
    expect(new Set(keys).size).toBe(keys.length)
  })
  it('every field can be asked in some way, and each way has words of its own', () => {
    for (const { ops } of Object.values(FIELD_TYPES)) {
      expect(ops.length).toBeGreaterThan(0)
      expect(new Set(ops.map(({ name }) => name)).size).toBe(ops.length)
    }
  })
  it('leads on to what a task belongs to, no further than it is deep', () => {
    expect(walkedFields().map(({ name }) => name)).toEqual(
      expect.arrayContaining(['client.tier', 'project.lead.access', 'project.client.tier']),
    )
    expect(taskField('project.client.tier')).toMatchObject({ type: 'choice', readers: 'members' })
    expect(taskField('project.client.tier.name')).toBeUndefined()
    expect(taskField('client.constructor')).toBeUndefined()
    // What is reached through several people has no one value to group or order by.
    expect(taskField('assignee.access')).toMatchObject({ many: true, groups: false, sorts: false })
  })
  it('takes a field once, and lets it go', () => {
    const made = register(own('number'))
    expect(() => register(own('text'))).toThrow(/two fields task\.x/)
    expect(taskField('x')).toBe(made)
    unregister(made)
    expect(taskField('x')).toBeUndefined()
  })
})

describe('values in words', () => {
  it.each<[FieldType, unknown, string, object?]>([
    ['text', 'A', 'A'],
    ['rich', '<p>A &amp; <b>B</b></p>', 'A & B'],
    ['number', 2.5, '2.5'],
    ['minutes', 90, '1h 30m'],
    ['money', 125_050, '£1,250.50', { currency: 'GBP' }],
    ['money', 1250, 'JP¥1,250', { currency: 'JPY' }],
    ['date', '2026-12-03', 'Thu 3 Dec'],
    ['moment', Date.parse('2026-11-23T10:42:00Z'), '10:42'],
    ['moment', Date.parse('2026-11-19T10:42:00Z'), 'Thu 19 Nov, 10:42'],
    ['yes-no', true, 'Yes'],
    ['yes-no', false, 'No'],
    ['choice', 'a', 'Asked', { choices: [{ value: 'a', name: 'Asked' }] }],
    ['choice', 'gone', 'gone', { choices: [] }],
    ['person', { id: 1, name: 'Imogen' }, 'Imogen'],
    [
      'people',
      [
        { id: 1, name: 'Imogen' },
        { id: 2, name: 'Tobias' },
      ],
      'Imogen, Tobias',
    ],
    ['date', null, ''],
  ])('%s %j is “%s”', (type, value, words, more = {}) =>
    expect(sayValue(own(type, more), value as never, at)).toBe(words),
  )
  it('lists leave out what goes without saying, and the day that is today', () => {
    const due = { due: '2026-11-23', dueTime: '10:00', late: false } as unknown as TaskFacts
    expect(sayOf(named('due'), due, at)).toBe('Mon 23 Nov, 10:00')
    expect(sayOf(named('due'), due, at, true)).toBe('10:00')
    expect(sayOf(named('due'), due, { ...at, clock: 12 })).toBe('Mon 23 Nov, 10:00 am')
    const usual = { priority: 'normal', postponed: 0 } as unknown as TaskFacts
    expect([
      sayOf(named('priority'), usual, at),
      sayOf(named('priority'), usual, at, true),
    ]).toEqual(['Normal', ''])
    expect(sayOf(named('postponed'), usual, at, true)).toBe('')
    expect(inBox(own('money', { currency: 'GBP' }), 1250)).toBe('12.5')
  })
  it('weeks and days until due go by the calendar, weeks from Monday (ISO 8601)', () => {
    const left = (due: string) =>
      ['days-left', 'weeks-left'].map((name) => named(name).read({ due } as TaskFacts, at))
    expect(['2026-11-22', '2026-11-23', '2026-11-29', '2026-11-30'].map(left)).toEqual([
      [-1, -1],
      [0, 0],
      [6, 0],
      [7, 1],
    ])
  })
})

describe('what is typed and kept', () => {
  const choices = [
    { value: 'a', name: 'Asked for' },
    { value: 'b', name: 'Here' },
    { value: 'c', name: 'Here in part' },
  ]
  const parse = (of: Field<'task'>, text: string) =>
    parseEdit(of, text, { today: at.today, choices })
  it.each<[FieldType, string, unknown]>([
    ['text', ' A ', 'A'],
    ['text', '', null],
    ['number', '1,250.5', 1250.5],
    ['minutes', '1h 30m', 90],
    ['money', '12.50', 1250],
    ['date', 'fri', '2026-11-27'],
    ['yes-no', 'y', true],
    ['yes-no', '', false],
    ['choice', 'asked', 'a'],
    ['choice', 'here', 'b'],
    ['choice', '', null],
  ])('%s “%s”', (type, text, value) =>
    expect(parse(own(type), text)).toEqual({ values: { x: value } }),
  )
  it.each<[FieldType, string, RegExp]>([
    ['number', 'much', /X: “much” is not a number/],
    ['date', '31 feb', /not a date, such as/],
    ['yes-no', 'maybe', /not yes or no/],
    ['choice', 'he', /not clear: Here, Here in part/],
    ['choice', 'gone', /not one of: Asked for/],
  ])('%s “%s” says what would be right', (type, text, why) =>
    expect(() => parse(own(type), text)).toThrow(why),
  )
  it.each<[FieldType, unknown, boolean]>([
    ['text', 'x'.repeat(2000), true],
    ['text', 'x'.repeat(2001), false],
    ['link', 'https://example.org', true],
    ['link', 'javascript:alert(1)', false],
    ['number', Infinity, false],
    ['minutes', -1, false],
    ['money', 0.5, false],
    ['date', '2026-02-30', false],
    ['yes-no', 'yes', false],
    ['choice', 'z', false],
    ['person', '1', false],
  ])('%s keeps %j: %s', (type, value, fits) => {
    const keep = () => keptValue(own(type, { choices }), value as never)
    if (fits) expect(keep()).toBe(value)
    else expect(keep).toThrow(/“X” takes/)
  })
  it('an edit says where a field is kept; two are one', () => {
    expect(editOf(named('due'), null)).toEqual({ due: null })
    expect(editOf(named('assignee'), [1])).toEqual({ assignees: [1] })
    expect(editOf(own('text'), 'a')).toEqual({ values: { x: 'a' } })
    expect(joined({ due: 'a', fields: { 1: 'x' } }, { due: 'b', fields: { 2: 'y' } })).toEqual({
      ...{ due: 'b', fields: { 1: 'x', 2: 'y' } },
    })
    expect([isSettable(named('due')), isSettable(named('late'))]).toEqual([true, false])
    expect([isChosen('state'), isChosen('yes-no'), isChosen('date')]).toEqual([true, true, false])
  })
  it('what the journal kept is held as the field holds it, things by their numbers', () => {
    expect(heldValue(named('client'), 3)).toEqual({ id: 3, name: '#3' })
    expect(heldValue(named('assignee'), [3])).toEqual([{ id: 3, name: '#3' }])
    expect(heldValue(named('due'), null)).toBeNull()
    expect(heldValue(own('yes-no'), 1)).toBe(true)
    const before = beforeOf(named('due'))
    expect(before.read({ was: { due: '2026-11-20' } } as unknown as TaskFacts, at)).toBe(
      '2026-11-20',
    )
    expect(before).toMatchObject({ name: 'was:due', only: 'rules', column: false })
  })
})

describe('moments', () => {
  const moment = Date.parse('2026-07-01T08:05:00Z')
  const on = (today: string, clock?: 12 | 24) =>
    sayMoment(moment, { today, zone: 'Europe/London', ...(clock && { clock }) })
  it('are a time today, a day otherwise, in the firm’s zone', () => {
    expect(on('2026-07-01')).toBe('09:05')
    expect(on('2026-07-02')).toBe('Wed 1 Jul, 09:05')
    expect(on('2027-01-01')).toBe('Wed 1 Jul 2026, 09:05')
    const late = Date.parse('2026-06-30T23:30:00Z')
    expect(sayMoment(late, { today: '2026-07-01', zone: 'Europe/London' })).toBe('00:30')
  })
  it.each([
    ['00:30', '12:30 am'],
    ['09:05', '9:05 am'],
    ['12:00', '12:00 pm'],
    ['23:59', '11:59 pm'],
  ])('%s by twelve hours is %s', (time, said) => {
    expect(sayTime(time, 12)).toBe(said)
    expect(sayTime(time)).toBe(time)
  })
  it('follow the firm’s clock', () => expect(on('2026-07-02', 12)).toBe('Wed 1 Jul, 9:05 am'))
})
