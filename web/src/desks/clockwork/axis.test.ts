import { expect, it } from 'vitest'
import type { TemplateTask } from '#core/templates/template.ts'
import { axisOf, sayOffset } from './axis.ts'

const task = (due: number, start?: number): TemplateTask => ({
  key: `t${due}`,
  title: 'T',
  due: { days: due },
  ...(start !== undefined && { start: { days: start } }),
})

it('spans every task with room on both sides, zero in place', () => {
  const axis = axisOf([task(-12), task(2), task(-3, -6)])
  expect(axis.days).toBe(17)
  expect(axis.zero).toBeCloseTo((13 / 17) * 100)
  expect(axis.ticks.map((t) => t.name)).toEqual(['−12', '−10', '−8', '−6', '−4', '−2', '0', '+2'])
  expect(axis.place(task(-3, -6))).toEqual({
    left: `${(7 / 17) * 100}%`,
    width: `${(4 / 17) * 100}%`,
  })
  expect(axis.place(task(-12)).width).toBe(`${(1 / 17) * 100}%`)
})
it('takes wider steps for long templates', () =>
  expect(axisOf([task(-100)]).ticks.length).toBeLessThan(15))
it('an empty template still has an axis', () => expect(axisOf([]).days).toBeGreaterThan(3))
it('says offsets', () => {
  expect(sayOffset({ days: -1 }, 'deadline')).toBe('1 working day before the deadline')
  expect(sayOffset({ days: 3, unit: 'calendar' }, 'start')).toBe('3 calendar days after the start')
  expect(sayOffset({ days: 0 }, 'start')).toBe('on the start')
  expect(sayOffset({ days: 2, from: 'task:a:due' }, 'start')).toBe(
    '2 working days after task a due',
  )
})
