import { expect, it } from 'vitest'
import { BOOKS, lab } from '../../test/lab.ts'
import { makeField } from '../fields/service.ts'
import { listRuns } from '../rules/log.ts'
import { undoChange } from '../journal/undo.ts'
import {
  archiveSeries,
  copySeries,
  makeSeries,
  removeSeries,
  switchSeries,
} from '../series/service.ts'
import { listSeries } from '../series/sheet.ts'
import {
  archiveTemplate,
  copyTemplate,
  listTemplates,
  makeTemplate,
  removeTemplate,
} from './service.ts'
import { startProject } from './start.ts'

/** Templates and series as they are copied, put aside, brought back and removed. */
function room() {
  const l = lab()
  const template = makeTemplate(l.engine, l.imogen, BOOKS).result
  const series = (name: string) =>
    makeSeries(l.engine, l.imogen, {
      name,
      leadDays: 0,
      schedule: { start: '2026-11-25T09:00', rule: 'FREQ=WEEKLY;BYDAY=WE', roll: 'none' },
      makes: {
        kind: 'project',
        templateId: template.id,
        name: 'Books',
        clientId: null,
        leadId: null,
        roles: {},
        period: { of: 'month' as const, which: 'before' as const },
      },
    }).result
  const start = () =>
    startProject(l.engine, l.imogen, template.id, {
      ...{ anchor: '2026-12-10', name: 'B', clientId: null, leadId: null, roles: {} },
    }).whole().result
  return { l, template, series, start }
}

it('a copy of a template is changed on its own', () => {
  const { l, template } = room()
  const copy = copyTemplate(l.engine, l.imogen, template.id).result
  expect(copy.name).toBe(`${template.name}, copy`)
  expect(copy.definition.phases).toEqual(template.definition.phases)
  expect(copy.id).not.toBe(template.id)
  expect(() => copyTemplate(l.engine, l.tobias, template.id)).toThrow(/manager/i)
})
it('nothing is started from a template put aside; what was started stays, and it comes back', () => {
  const { l, template, start } = room()
  const project = start()
  const { change } = archiveTemplate(l.engine, l.imogen, template.id, true)
  expect(listTemplates(l.engine, l.imogen)).toMatchObject([{ archived: true, projects: 1 }])
  expect(start).toThrow(/is archived; bring it back first/)
  expect(l.rows('select templateId from projects where id = ?', Number(project.id))).toEqual([
    { templateId: template.id },
  ])
  undoChange(l.engine, l.imogen, change!).whole()
  expect(start).not.toThrow()
})
it('a template in use is not removed, nor put aside under a running series', () => {
  const { l, template, series, start } = room()
  const { id } = series('Weekly')
  expect(() => archiveTemplate(l.engine, l.imogen, template.id, true)).toThrow(
    /Series “Weekly” starts projects from/,
  )
  switchSeries(l.engine, l.imogen, id, false)
  archiveTemplate(l.engine, l.imogen, template.id, true)
  archiveTemplate(l.engine, l.imogen, template.id, false)
  start()
  expect(() => removeTemplate(l.engine, l.imogen, template.id)).toThrow(
    /1 project came from it\. Archive it instead/,
  )
  const other = copyTemplate(l.engine, l.imogen, template.id).result
  const { change } = removeTemplate(l.engine, l.imogen, other.id)
  expect(listTemplates(l.engine, l.imogen)).toHaveLength(1)
  undoChange(l.engine, l.imogen, change!).whole()
  expect(listTemplates(l.engine, l.imogen)).toHaveLength(2)
})
it('a template that a paused series starts, or that has a field of its own, is not removed', () => {
  const { l, template, series } = room()
  const { id } = series('Weekly')
  switchSeries(l.engine, l.imogen, id, false)
  const remove = () => removeTemplate(l.engine, l.imogen, template.id)
  expect(remove).toThrow(/series “Weekly” starts projects from it/)
  removeSeries(l.engine, l.imogen, id)
  makeField(l.engine, l.imogen, {
    ...{ name: 'Fee', kind: 'number', options: {}, hidden: false },
    ...{ projectId: null, templateId: template.id },
  })
  expect(remove).toThrow(/the field “Fee” is its own/)
})
it('a series resumed while its template is put aside says why it makes nothing, and breaks nothing', () => {
  const { l, template, series } = room()
  const { id } = series('Weekly')
  switchSeries(l.engine, l.imogen, id, false)
  archiveTemplate(l.engine, l.imogen, template.id, true)
  switchSeries(l.engine, l.imogen, id, true)
  l.until('2026-12-03T12:00')
  expect(l.rows('select id from projects')).toEqual([])
  const [run] = listRuns(l.engine, l.imogen, {})
  expect(run?.outcome).toBe('failed')
  expect([run?.summary, ...(run?.reasons ?? [])].join()).toMatch(/is archived/)
})
it('a copy of a series is paused; one put aside makes nothing; one that has made work stays', () => {
  const { l, series } = room()
  const { id } = series('Weekly')
  const copy = copySeries(l.engine, l.imogen, id).result
  expect(copy).toMatchObject({ name: 'Weekly, copy', on: false })
  archiveSeries(l.engine, l.imogen, id, true)
  l.until('2026-12-03T12:00')
  expect(l.rows('select id from projects')).toEqual([])
  expect(() => switchSeries(l.engine, l.imogen, id, true)).toThrow(/bring it back first/)
  archiveSeries(l.engine, l.imogen, id, false)
  expect(listSeries(l.engine, l.imogen).find((s) => s.id === id)).toMatchObject({
    ...{ archived: false, on: false },
  })
  switchSeries(l.engine, l.imogen, id, true)
  l.until('2026-12-10T12:00')
  expect(l.rows('select id from projects')).toHaveLength(1)
  expect(() => removeSeries(l.engine, l.imogen, id)).toThrow(/has made work/)
  removeSeries(l.engine, l.imogen, copy.id)
  expect(listSeries(l.engine, l.imogen).map((s) => s.id)).toEqual([id])
  expect(() => removeSeries(l.engine, l.devika, id)).toThrow(/manager/i)
})
