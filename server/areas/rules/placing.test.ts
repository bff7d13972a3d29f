import { readFileSync } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { isoDate } from '#core/calendar/dates.ts'
import type { Rung } from '#contract/rules.ts'
import { ENGINE, lab, LADDER, type Lab } from '../../test/lab.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { makeRule, ruleSheet, saveRule, switchRule } from './service.ts'

const MANY = 300

/** A project of many open tasks that are due on Friday, and a ladder that is off. */
function room() {
  const l = lab()
  const definition = LADDER({ team: l.team, boss: l.imogen.id })
  const rule = makeRule(l.engine, l.imogen, { name: 'Late', ownerId: l.imogen.id, definition })
  const project = makeProject(l.engine, l.imogen, { name: 'Books', clientId: null }).result.id
  const tasks = l.engine.journal.change(ENGINE, (write) =>
    Array.from({ length: MANY }, (_, i) =>
      write.insert('tasks', {
        ...{ title: `Post ${i}`, projectId: project, due: isoDate('2026-11-27'), position: i },
        ...{ creatorId: l.imogen.id, stateId: 1, createdAt: write.at },
      }),
    ),
  ).result
  l.runner.tick()
  const turn = (on: boolean) => switchRule(l.engine, l.imogen, rule.result.id, { on })
  return { l, project, tasks, turn, rule: rule.result.id }
}
/** Each look at the clock takes ten milliseconds: few alarms share a step, on any machine. */
function slowly() {
  let now = 0
  vi.spyOn(performance, 'now').mockImplementation(() => (now += 10))
}
afterEach(() => void vi.restoreAllMocks())
const ladders = (l: Lab, where = 'true') =>
  l.rows(`select 1 from alarms where kind = 'ladder' and ${where}`).length
const archive = (l: Lab, id: number, archived: boolean) =>
  editProject(l.engine, l.imogen, id, { patch: { archived }, seen: null })

describe('a ladder over many tasks', () => {
  it('is put up and taken down in portions; the change that does it touches one alarm', () => {
    const { l, turn } = room()
    slowly()
    turn(true)
    expect(l.rows('select kind, at from alarms')).toEqual([{ kind: 'placing', at: 0 }])
    const seen = []
    for (const _ of l.runner.steps()) seen.push(ladders(l))
    expect(seen.some((count) => count > 0 && count < MANY)).toBe(true)
    expect(ladders(l)).toBe(MANY)
    expect(l.rows("select 1 from alarms where kind <> 'ladder'")).toEqual([])
    turn(false)
    expect(ladders(l)).toBe(MANY)
    l.runner.tick()
    expect(l.rows('select 1 from alarms')).toEqual([])
  })
  it('goes on after a stop, and leaves alone what was put up meanwhile', () => {
    const { l, turn, tasks } = room()
    slowly()
    turn(true)
    const steps = l.runner.steps()
    while (ladders(l) === 0) steps.next()
    expect(ladders(l)).toBeLessThan(MANY)
    // Whoever moves a due now has the ladder climbed from there, at once: it is over in the past.
    const patch = { due: '2026-11-20' }
    editTask(l.engine, l.imogen, tasks.at(-1)!, { patch, seen: null })
    l.runner.tick()
    expect(ladders(l)).toBe(MANY)
    expect(l.rows('select itemId from runs')).toEqual([])
    l.until('2026-11-23T09:00')
    expect(l.rows('select itemId from runs')).toEqual([{ itemId: tasks.at(-1) }])
  })
  it('acts on nothing by what it was before it was saved', () => {
    const { l, turn, rule } = room()
    turn(true)
    l.runner.tick()
    // While the engine slept, the first rung fell due; then it was put off by a week.
    l.clock.set(Date.parse('2026-11-30T09:30:00Z'))
    const { definition, version } = ruleSheet(l.engine, l.imogen, rule)
    const rungs = [
      { ...definition.rungs![0]!, delay: { days: 6, unit: 'working', time: '09:00' } as const },
    ]
    const body = { name: 'Late', ownerId: l.imogen.id, definition: { ...definition, rungs } }
    saveRule(l.engine, l.imogen, rule, { body, seen: version })
    l.runner.tick()
    expect(l.rows('select 1 from runs')).toEqual([])
    expect(ladders(l)).toBe(MANY)
  })
})

describe('a daily reminder', () => {
  type Edit = (rung: Rung) => Rung
  const once: Edit = (rung) => ({
    ...rung,
    actions: rung.actions.map((a) => (a.kind === 'remind' ? { ...a, daily: false } : a)),
  })
  const later: Edit = (rung) => ({ ...rung, delay: { days: 2, unit: 'working', time: '09:00' } })
  it.each([
    ['reminds once', once],
    ['comes later', later],
  ])('ends when its rung is saved so that it %s', (_, edit) => {
    const l = lab()
    const definition = LADDER({ team: l.team, boss: l.imogen.id })
    const body = { name: 'Late', ownerId: l.imogen.id, definition }
    const { id } = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, id, { on: true })
    const due = { due: '2026-11-23', assignees: [l.tobias.id] }
    makeTask(l.engine, l.imogen, { title: 'Post', ...due })
    const runs = () => l.rows<{ summary: string }>('select summary from runs').length
    l.until('2026-11-24T09:00')
    expect([runs(), l.rows("select 1 from alarms where kind = 'repeat'").length]).toEqual([1, 1])
    const [first, ...others] = definition.rungs!
    const rungs = [edit(first!), ...others]
    const { version } = ruleSheet(l.engine, l.imogen, id)
    const saved = { body: { ...body, definition: { ...definition, rungs } }, seen: version }
    saveRule(l.engine, l.imogen, id, saved)
    l.until('2026-11-25T12:00')
    expect([runs(), l.rows("select 1 from alarms where kind = 'repeat'").length]).toEqual([1, 0])
  })
})

describe('a project of many tasks', () => {
  it('comes to rest without a word about each, and passes its rungs by', () => {
    const { l, turn, project } = room()
    turn(true)
    l.runner.tick()
    const before = l.rows('select id, at from alarms')
    archive(l, project, true)
    expect(l.rows('select id, at from alarms')).toEqual(before)
    l.until('2026-11-30T12:00')
    archive(l, project, false)
    l.runner.tick()
    expect(l.rows('select 1 from runs')).toEqual([])
    expect(ladders(l, 'rung = 1')).toBe(MANY)
  })
  it('that rested before ladders stood over what rests is put on them', () => {
    const { l, turn, project } = room()
    turn(true)
    l.runner.tick()
    archive(l, project, true)
    l.db.sqlite.exec('delete from alarms where itemId % 2')
    const kept = l.rows('select id, at from alarms')
    const sql = readFileSync('server/database/migrations/0013_placing.sql', 'utf8')
    l.db.sqlite.exec(sql.split('--> statement-breakpoint').at(-1)!)
    l.until('2026-11-30T08:00')
    expect(ladders(l)).toBe(MANY)
    expect(l.rows('select id, at from alarms')).toEqual(expect.arrayContaining(kept))
    l.until('2026-11-30T12:00')
    archive(l, project, false)
    l.runner.tick()
    expect(l.rows('select 1 from runs')).toEqual([])
  })
})
