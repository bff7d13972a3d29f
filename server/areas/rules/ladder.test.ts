import { describe, expect, it } from 'vitest'
import { ENGINE, lab, LADDER, type Lab } from '../../test/lab.ts'
import { listRuns } from './log.ts'
import { makeRule, saveRule, switchRule, ruleSheet } from './service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { lateAlready } from './late-already.ts'
import { listNotices } from '../notices/service.ts'

const lateRule = (l: Lab, also = false) => {
  const rule = makeRule(l.engine, l.imogen, {
    name: 'Late',
    ownerId: l.imogen.id,
    definition: LADDER({ team: l.team, boss: l.imogen.id }),
  }).result
  switchRule(l.engine, l.imogen, rule.id, { on: true, also })
  return rule.id
}

const summaries = (l: Lab) =>
  l.rows<{ summary: string }>('select summary from runs order by id').map((r) => r.summary)

describe('the ladder', () => {
  const late = (l: Lab) =>
    makeTask(l.engine, l.imogen, {
      title: 'Statements',
      due: '2026-11-23',
      assignees: [l.tobias.id],
      clientId: l.client,
    }).result
  it('reminds, tells, reassigns: each rung once, at its time, counted in working days', () => {
    const l = lab()
    lateRule(l)
    const task = late(l)
    l.until('2026-11-24T08:59')
    expect(summaries(l)).toEqual([])
    l.until('2026-11-24T09:00')
    expect(summaries(l)).toEqual(['Rung 1: Reminded Tobias'])
    expect(taskSheet(l.engine, l.imogen, task.id).rung).toMatchObject({ at: 1, of: 3 })
    l.until('2026-11-25T10:00')
    expect(summaries(l).at(-1)).toBe('Rung 1 again: Reminded Tobias')
    l.until('2026-11-26T09:00')
    expect(summaries(l)).toContain('Rung 2: Told Imogen')
    l.until('2026-11-30T09:00')
    expect(summaries(l).at(-1)).toBe(
      `Rung 3: Assigned Devika, Set priority urgent, Made task #${task.id + 1} “Call about Statements” for Imogen`,
    )
    const after = taskSheet(l.engine, l.imogen, task.id)
    expect([after.assignees.map((a) => a.name), after.priority, after.rung?.at]).toEqual([
      ['Devika'],
      'urgent',
      3,
    ])
    const runs = summaries(l).length
    for (let i = 0; i < 3; i++) l.runner.tick()
    expect(summaries(l)).toHaveLength(runs)
    expect(
      listNotices(l.engine, l.tobias)
        .filter((n) => n.kind === 'reminder')
        .map((n) => n.body),
    ).toContain('Statements is 1 working day late')
  })
  it('closing the task, or moving its date, takes it off', () => {
    const l = lab()
    lateRule(l)
    const one = late(l)
    const two = late(l)
    l.until('2026-11-24T09:00')
    editTask(l.engine, l.tobias, one.id, { patch: { state: 'done' }, seen: null })
    editTask(l.engine, l.tobias, two.id, { patch: { due: '2026-11-27' }, seen: null })
    expect(taskSheet(l.engine, l.imogen, two.id).rung).toBeNull()
    l.until('2026-11-30T08:59')
    expect(summaries(l)).toHaveLength(2)
    l.until('2026-11-30T09:00')
    expect(summaries(l)).toHaveLength(3)
  })
  it('says why not: the first condition that failed with what it saw', () => {
    const l = lab()
    const rule = lateRule(l)
    const task = late(l)
    editTask(l.engine, l.tobias, task.id, { patch: { state: 'in-review' }, seen: null })
    l.until('2026-11-24T10:00')
    const [run] = listRuns(l.engine, l.imogen, { ruleId: rule })
    expect(run).toMatchObject({ outcome: 'skipped', summary: 'Rung 1 skipped' })
    expect(run!.reasons[0]).toBe('First to fail: kind of state is not In review: it was In review')
    expect(listNotices(l.engine, l.tobias).filter((n) => n.kind === 'reminder')).toEqual([])
  })
  it('switched on, it acts on what comes, and says what is late already', () => {
    const l = lab()
    const before = late(l)
    l.until('2026-11-27T12:00')
    const rule = lateRule(l)
    expect(lateAlready(l.engine, l.imogen, rule)).toEqual({
      count: 1,
      tasks: [{ id: before.id, title: before.title, project: null }],
    })
    l.runner.tick()
    expect(summaries(l)).toEqual([])
    // Its next rung comes in its time, and what is made late now speaks at once.
    late(l)
    l.runner.tick()
    expect(summaries(l)).toEqual(['Rung 2: Told Imogen'])
    l.until('2026-11-30T09:00')
    expect(taskSheet(l.engine, l.imogen, before.id).priority).toBe('urgent')
  })
  it('switched on for what is late too, the highest rung already passed speaks; editing does not fire again', () => {
    const l = lab()
    const task = late(l)
    l.until('2026-11-27T12:00')
    const rule = lateRule(l, true)
    l.runner.tick()
    expect(summaries(l)).toEqual(['Rung 2: Told Imogen'])
    const view = ruleSheet(l.engine, l.imogen, rule)
    saveRule(l.engine, l.imogen, rule, {
      body: {
        name: 'Late still',
        ownerId: l.imogen.id,
        definition: { ...view.definition, rungs: view.definition.rungs!.map((r) => ({ ...r })) },
      },
      seen: view.version,
    })
    l.runner.tick()
    expect(summaries(l)).toEqual(['Rung 2: Told Imogen'])
    l.until('2026-11-30T09:00')
    expect(taskSheet(l.engine, l.imogen, task.id).priority).toBe('urgent')
  })
  it('off, it leaves no alarm; a rule about someone who left is refused, and a running one says so', () => {
    const l = lab()
    const rule = lateRule(l)
    late(l)
    l.runner.tick()
    expect(l.rows('select 1 from alarms')).toHaveLength(1)
    switchRule(l.engine, l.imogen, rule, { on: false })
    l.runner.tick()
    expect(l.rows('select 1 from alarms')).toEqual([])
    switchRule(l.engine, l.imogen, rule, { on: true })
    const definition = { ...LADDER({ team: l.team, boss: l.devika.id }) }
    saveRule(l.engine, l.imogen, rule, {
      body: { name: 'Late', ownerId: l.imogen.id, definition },
      seen: null,
    })
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.devika.id, { active: false }),
    )
    expect(
      () =>
        saveRule(l.engine, l.imogen, rule, {
          body: { name: 'Late', ownerId: l.imogen.id, definition },
          seen: null,
        }).result,
    ).toThrow(/Devika has left/)
    expect(ruleSheet(l.engine, l.imogen, rule).warnings[0]).toMatch(/Devika has left/)
    l.until('2026-11-26T09:00')
    expect(listRuns(l.engine, l.imogen, { ruleId: rule })[0]!.reasons).toContain(
      'Devika has left, so nothing went there',
    )
  })
  it('pauses itself after five failures in a row and tells its owner', () => {
    const l = lab()
    const rule = lateRule(l)
    late(l)
    // A definition that no edge would let through stands in for a fault of our own.
    l.engine.journal.change(ENGINE, (write) =>
      write.update('rules', rule, {
        definition: {
          ...LADDER({ team: l.team, boss: l.imogen.id }),
          rungs: [{ key: 'x', delay: { hours: 1 }, actions: [{ kind: 'shout' } as never] }],
        },
      }),
    )
    l.until('2026-11-25T12:00')
    expect(ruleSheet(l.engine, l.imogen, rule).pausedBecause).toMatch(/Failed 5 times/)
    expect(l.rows("select 1 from runs where outcome = 'failed'")).toHaveLength(5)
    expect(listNotices(l.engine, l.imogen).map((n) => n.kind)).toContain('rule')
    expect(l.rows('select 1 from alarms')).toEqual([])
  })
})
