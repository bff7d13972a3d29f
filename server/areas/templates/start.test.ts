import { isoDate } from '#core/calendar/dates.ts'
import { startProject, tryTemplate } from './start.ts'
import { describe, expect, it } from 'vitest'
import { BOOKS, ENGINE, lab } from '../../test/lab.ts'
import { makeTask } from '../tasks/service.ts'
import { makeTemplate } from './service.ts'
import { todaySheet } from '../today/service.ts'

describe('starting a project', () => {
  it('makes tasks with dates and people, and leaves unfilled roles as loose ends', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    const id = startProject(l.engine, l.imogen, template.id, {
      name: 'Mossgate, books',
      clientId: l.client,
      anchor: '2026-12-07',
      roles: { keeper: { person: l.tobias.id } },
    }).whole().result.id
    expect(
      l.rows(
        'select title, start, due, dueTime, role from tasks where projectId = ? order by position',
        id,
      ),
    ).toEqual([
      {
        title: 'Ask for statements',
        start: null,
        due: '2026-11-30',
        dueTime: null,
        role: 'Bookkeeper',
      },
      {
        title: 'Post takings',
        start: '2026-12-02',
        due: '2026-12-03',
        dueTime: null,
        role: 'Bookkeeper',
      },
      { title: 'Review', start: null, due: '2026-12-07', dueTime: '12:00', role: 'Reviewer' },
    ])
    expect(todaySheet(l.engine, l.imogen).loose.map((e) => e.text)).toContain(
      'Reviewer is unfilled in Mossgate, books: 1 task',
    )
  })
  it('says what stands in the way, and refuses people who left without making anything', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('timeOff', {
        personId: l.tobias.id,
        firstDay: isoDate('2026-12-03'),
        lastDay: isoDate('2026-12-04'),
      }),
    )
    const found = tryTemplate(l.engine, l.imogen, template.id, {
      clientId: null,
      anchor: '2026-12-07',
      roles: { keeper: { person: l.tobias.id } },
    })
    expect(found.findings.map((f) => f.label)).toEqual(['Clash', 'Open'])
    expect(found.findings[0]!.sentence).toBe(
      'Post takings lands on Thu 3 Dec: Tobias is away. Next free day is Mon 7 Dec.',
    )
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.devika.id, { active: false }),
    )
    expect(
      () =>
        startProject(l.engine, l.imogen, template.id, {
          name: 'X',
          clientId: null,
          anchor: '2026-12-07',
          roles: { reviewer: { person: l.devika.id } },
        }).whole().result.id,
    ).toThrow(/Devika has left/)
    expect(l.rows('select 1 from projects')).toEqual([])
  })
  it('a team fills a role with its least loaded', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    makeTask(l.engine, l.imogen, {
      title: 'Long',
      estimate: 600,
      assignees: [l.tobias.id],
      due: '2026-12-01',
    })
    const id = startProject(l.engine, l.imogen, template.id, {
      name: 'B',
      clientId: null,
      anchor: '2026-12-07',
      roles: { keeper: { team: l.team } },
    }).whole().result.id
    expect(
      l.rows(
        'select distinct personId from taskAssignees a join tasks t on t.id = a.taskId where t.projectId = ?',
        id,
      ),
    ).toEqual([{ personId: l.devika.id }])
  })
})
