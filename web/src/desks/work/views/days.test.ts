import { describe, expect, it } from 'vitest'
import { daysOf, headingOf, leaf, rowsOf } from './calendar-days.ts'
import { daysBetween } from './span.ts'
import { around, fitted, headOf } from './timeline-scale.ts'

describe('a calendar sheet', () => {
  it('of a month is whole weeks from Monday on, four to six of them', () => {
    expect(daysOf('month', '2026-11-26')).toEqual({ first: '2026-10-26', last: '2026-12-06' })
    // February 2027 begins on a Monday and has four weeks to the day.
    expect(rowsOf('month', daysOf('month', '2027-02-10'))).toEqual([
      ...['2027-02-01', '2027-02-08', '2027-02-15', '2027-02-22'],
    ])
    expect(rowsOf('month', daysOf('month', '2026-08-31'))).toHaveLength(6)
    expect(daysOf('week', '2026-11-29')).toEqual({ first: '2026-11-23', last: '2026-11-29' })
    expect(rowsOf('day', daysOf('day', '2026-11-29'))).toEqual(['2026-11-29'])
  })
  it('is leafed by months whatever their lengths, by weeks and by days', () => {
    let at = '2026-12-31'
    const seen: string[] = []
    for (let i = 0; i < 14; i++) seen.push((at = leaf('month', at, 1)).slice(0, 7))
    expect(seen[0]).toBe('2027-01')
    expect(new Set(seen).size).toBe(14)
    for (let i = 0; i < 14; i++) at = leaf('month', at, -1)
    expect(at).toBe('2026-12-01')
    expect([leaf('week', '2026-12-31', 1), leaf('day', '2027-01-01', -1)]).toEqual([
      ...['2027-01-07', '2026-12-31'],
    ])
  })
  it('says what it shows', () => {
    expect(headingOf('month', '2026-11-26', '2026-11-26')).toBe('November 2026')
    expect(headingOf('week', '2026-11-26', '2026-11-26')).toBe('Mon 23 Nov to Sun 29 Nov')
  })
})

describe('a timeline', () => {
  it('begins on a Monday, and names every day above and below, without a gap', () => {
    for (const step of ['day', 'week', 'month', 'quarter'] as const) {
      const scale = around('2026-11-26', step)
      expect(new Date(scale.first).getUTCDay()).toBe(1)
      const width = (daysBetween(scale.first, scale.last) + 1) * scale.px
      for (const line of Object.values(headOf(scale))) {
        expect(line.reduce((sum, mark) => sum + mark.width, 0)).toBeCloseTo(width)
        line
          .slice(1)
          .forEach((mark, i) => expect(mark.at).toBeCloseTo(line[i]!.at + line[i]!.width))
      }
    }
  })
  it('names days, weeks by their Mondays or by their numbers (ISO 8601), and quarters', () => {
    const days = { first: '2026-12-28', last: '2027-01-10' }
    const names = (step: 'day' | 'week' | 'month' | 'quarter') => {
      const { upper, lower } = headOf({ ...days, px: 10, names: step })
      return [upper.map((m) => m.name), lower.map((m) => m.name)]
    }
    expect(names('day')[1]!.slice(0, 4)).toEqual(['M 28', 'T 29', 'W 30', 'T 31'])
    expect(names('week')).toEqual([
      ['December 2026', 'January 2027'],
      ['28 Dec', '4 Jan'],
    ])
    expect(names('month')[1]).toEqual(['53', '1'])
    expect(names('quarter')).toEqual([
      ['2026', '2027'],
      ['Quarter 4', 'Quarter 1'],
    ])
  })
  it('is fitted to what it shows: a fortnight in wide days, years as narrow as days get', () => {
    const within = (first: string, last: string, width: number) => {
      const scale = fitted({ first, last }, width)
      expect(scale.first < first && scale.last > last).toBe(true)
      return { ...scale, wide: (daysBetween(scale.first, scale.last) + 1) * scale.px }
    }
    const fortnight = within('2026-11-23', '2026-12-04', 1000)
    expect(fortnight.names).toBe('day')
    expect(fortnight.wide).toBeGreaterThan(1000 - fortnight.px)
    const quarter = within('2026-10-01', '2026-12-31', 1000)
    expect(quarter.names).toBe('week')
    expect(quarter.wide).toBeLessThanOrEqual(1000)
    expect(within('2020-01-01', '2026-12-31', 1000)).toMatchObject({ px: 2.6, names: 'quarter' })
    // A day alone is no wider than a day.
    expect(within('2026-11-23', '2026-11-23', 1000).px).toBe(40)
  })
})
