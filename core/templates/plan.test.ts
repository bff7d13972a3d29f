import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import type { IsoDate } from '../brands.ts'
import { addWorkingDays, calendar, isWorkingDay } from '../calendar/calendar.ts'
import { guessMapping, readDays, readEffort, readTemplateRows } from '../formats/template-rows.ts'
import { plan } from './plan.ts'
import type { Template, TemplateTask } from './template.ts'

const firm = calendar({ holidays: [{ date: '2026-12-25', name: 'Christmas Day' }, '2026-12-28'] })
const day = (text: string) => text as IsoDate
const template = (tasks: TemplateTask[], more: Partial<Template> = {}): Template => ({
  name: 'Books',
  anchor: 'deadline',
  roles: [{ key: 'keeper', name: 'Bookkeeper' }],
  phases: [{ key: 'p', name: 'Phase', tasks }],
  ...more,
})
const task = (
  key: string,
  due: TemplateTask['due'],
  more: Partial<TemplateTask> = {},
): TemplateTask => ({ key, title: key, due, ...more })
const dues = (t: Template, anchor: string) =>
  plan({ template: t, anchor: day(anchor), firm }).tasks.map((x) => x.due)

describe('offsets', () => {
  // Source: counted by hand on a 2026 calendar.
  it('count working days back over weekends and holidays', () =>
    expect(
      dues(
        template([
          task('a', { days: -1 }),
          task('b', { days: -12 }),
          task('c', { days: 0 }),
          task('d', { days: 2 }),
        ]),
        '2026-12-29',
      ),
    ).toEqual(['2026-12-24', '2026-12-09', '2026-12-29', '2026-12-31']))
  it('count calendar days, then roll', () => {
    const made = plan({
      template: template([task('a', { days: -2, unit: 'calendar' })]),
      anchor: day('2026-12-07'),
      firm,
    })
    expect(made.tasks[0]!.due).toBe('2026-12-07')
    expect(made.findings).toEqual([
      {
        kind: 'rolled',
        task: 'a',
        field: 'due',
        from: '2026-12-05',
        to: '2026-12-07',
        because: 'weekend',
      },
    ])
  })
  it('name the holiday a date was rolled from', () =>
    expect(
      plan({
        template: template([task('a', { days: 0 })], { roll: 'preceding' }),
        anchor: day('2026-12-25'),
        firm,
      }).findings,
    ).toEqual([
      {
        kind: 'rolled',
        task: 'a',
        field: 'due',
        from: '2026-12-25',
        to: '2026-12-24',
        because: 'Christmas Day',
      },
    ]))
  it('count from another task and from a phase', () =>
    expect(
      dues(
        template([task('a', { days: -5 }), task('b', { days: 2, from: 'task:a:due' })], {
          phases: [
            {
              key: 'p',
              name: 'P',
              tasks: [task('a', { days: -5 }), task('b', { days: 2, from: 'task:a:due' })],
            },
            { key: 'q', name: 'Q', tasks: [task('c', { days: 1, from: 'phase:p:end' })] },
          ],
        }),
        '2026-12-11',
      ),
    ).toEqual(['2026-12-04', '2026-12-08', '2026-12-09']))
  it('refuse a circle and say which', () =>
    expect(() =>
      dues(
        template([
          task('a', { days: 1, from: 'task:b:due' }),
          task('b', { days: 1, from: 'task:a:due' }),
        ]),
        '2026-12-11',
      ),
    ).toThrow(/task:a:due → task:b:due → task:a:due/))
  it('refuse what is not there', () =>
    expect(() =>
      dues(template([task('a', { days: 1, from: 'milestone:x' })]), '2026-12-11'),
    ).toThrow(/is not here/))
})

describe('findings', () => {
  it('away, with the next free day; the date is not moved', () => {
    const made = plan({
      template: template([task('a', { days: 0 }, { role: 'keeper' })]),
      anchor: day('2026-11-27'),
      roles: { keeper: 'tobias' },
      firm,
      people: { tobias: calendar({ holidays: ['2026-11-27/2026-12-01'] }) },
    })
    expect(made.tasks[0]).toMatchObject({ due: '2026-11-27', assignees: ['tobias'] })
    expect(made.findings).toEqual([
      { kind: 'away', task: 'a', person: 'tobias', date: '2026-11-27', nextFree: '2026-12-02' },
    ])
  })
  it('past and unfilled, an unfilled role once with its tasks', () =>
    expect(
      plan({
        template: template([
          task('a', { days: -3 }, { role: 'keeper' }),
          task('b', { days: 0 }, { role: 'keeper' }),
        ]),
        anchor: day('2026-11-24'),
        firm,
        today: day('2026-11-23'),
      }).findings,
    ).toEqual([
      { kind: 'past', task: 'a', date: '2026-11-19' },
      { kind: 'unfilled', role: 'keeper', tasks: ['a', 'b'] },
    ]))
  it('a condition on an answer decides whether a task is made', () => {
    const t = template([task('a', { days: 0 }, { onlyIf: { question: 'stock', is: true } })])
    expect(plan({ template: t, anchor: day('2026-11-24'), firm }).tasks).toHaveLength(0)
    expect(
      plan({ template: t, anchor: day('2026-11-24'), firm, answers: { stock: true } }).tasks,
    ).toHaveLength(1)
  })
})

it('every planned date is a working day, and working-day offsets are exact from a working anchor', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 700 }),
      fc.integer({ min: -60, max: 60 }),
      fc.constantFrom('working' as const, 'calendar' as const),
      (shift, days, unit) => {
        const anchor = addWorkingDays(firm, day('2026-01-05'), shift)
        const due = dues(template([task('a', { days, unit })]), anchor)[0]!
        return (
          isWorkingDay(firm, due) &&
          (unit === 'calendar' || due === addWorkingDays(firm, anchor, days))
        )
      },
    ),
  ))

describe('rows of a checklist', () => {
  it.each([
    ['90', 90],
    ['45m', 45],
    ['1h 30m', 90],
    ['1.5h', 90],
    ['1:30', 90],
    ['2 hours', 120],
    ['soon', null],
    ['-5', null],
  ])('effort %s is %s', (text, minutes) => expect(readEffort(text)).toBe(minutes))
  it.each([
    ['-3', -3],
    ['−3', -3],
    ['+2', 2],
    ['3 days before', -3],
    ['2 working days after', 2],
    ['0', 0],
    ['Friday', null],
  ])('days %s is %s', (text, days) => expect(readDays(text)).toBe(days))
  it('guesses columns once each', () =>
    expect(guessMapping(['Step', 'Stage', 'Who', 'Minutes', 'Days before', 'Notes'])).toEqual({
      title: 0,
      phase: 1,
      role: 2,
      effort: 3,
      days: 4,
      description: 5,
    }))
  it('keeps what can be read and names the rest by line', () => {
    const rows = [
      ['Ask', 'Gather', 'Keeper', '20m', '-3'],
      ['', 'Gather', '', '', ''],
      ['Post', 'Post', 'keeper', 'long', '0'],
      ['', '', '', '', ''],
      ['File', 'Post', 'Keeper', '', 'whenever'],
      ['Ask', 'gather', '', '', '1'],
    ]
    const read = readTemplateRows(
      rows,
      { title: 0, phase: 1, role: 2, effort: 3, days: 4 },
      'Books',
      'deadline',
    )
    expect(read.kept).toBe(2)
    expect(read.problems.map((p) => [p.line, p.field])).toEqual([
      [3, 'title'],
      [4, 'effort'],
      [6, 'days'],
    ])
    expect(read.template.phases.map((p) => [p.name, p.tasks.map((t) => t.key)])).toEqual([
      ['Gather', ['ask', 'ask-2']],
    ])
    expect(read.template.roles).toEqual([{ key: 'keeper', name: 'Keeper' }])
  })
})
