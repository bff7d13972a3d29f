import { isoDate } from '#core/calendar/dates.ts'
import { seriesSheet } from '../areas/series/sheet.ts'
import { addComment } from '../areas/tasks/comments.ts'
import { startProject, tryTemplate } from '../areas/templates/start.ts'
import { describe, expect, it } from 'vitest'
import { BOOKS, ENGINE, lab, LADDER, london, type Lab } from '../test/lab.ts'
import { makeRule, saveRule, switchRule, listRuns, ruleSheet } from '../areas/rules/service.ts'
import { makeSeries, switchSeries } from '../areas/series/service.ts'
import { editTask, makeTask, taskSheet } from '../areas/tasks/service.ts'
import { makeTemplate } from '../areas/templates/service.ts'
import { lateAlready } from '../areas/rules/late-already.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { listNotices } from '../areas/notices/service.ts'
import { createDelivery, type Mail } from './outbox.ts'
import { todaySheet } from '../areas/today/service.ts'

const lateRule = (l: Lab, also = false) => {
  const rule = makeRule(l.engine, l.imogen, {
    name: 'Late',
    ownerId: l.imogen.id,
    definition: LADDER({ team: l.team, boss: l.imogen.id }),
  }).result
  switchRule(l.engine, l.imogen, rule.id, { on: true, also })
  return rule.id
}
/** Sends what waits, once. */
function deliver(l: Lab, send: (mail: Mail) => Promise<void>): Promise<void> {
  const delivery = createDelivery(l.engine, send)
  delivery.wake()
  return delivery.idle()
}
const summaries = (l: Lab) =>
  l.rows<{ summary: string }>('select summary from runs order by id').map((r) => r.summary)

describe('the journal', () => {
  it('writes before and after of what changed, and nothing when nothing did', () => {
    const l = lab()
    const task = makeTask(l.engine, l.tobias, { title: 'Post', due: '2026-11-25' }).result
    editTask(l.engine, l.tobias, task.id, { patch: { due: '2026-11-26' }, seen: null })
    const last = l.rows<{ before: string; after: string; actorId: number }>(
      "select before, after, actorId from journal where entity = 'tasks' order by id desc limit 1",
    )[0]!
    expect(JSON.parse(last.before)).toEqual({ due: '2026-11-25', postponed: 0, version: 1 })
    expect(JSON.parse(last.after)).toEqual({ due: '2026-11-26', postponed: 1, version: 2 })
    expect(last.actorId).toBe(l.tobias.id)
    const count = l.rows('select 1 from journal').length
    l.engine.journal.change(ENGINE, (write) => write.update('tasks', task.id, { title: 'Post' }))
    expect(l.rows('select 1 from journal')).toHaveLength(count)
  })
  it('leaves nothing of a change that fails, and tells nobody', () => {
    const l = lab()
    const heard: number[] = []
    l.engine.journal.subscribe((entries) => heard.push(entries.length))
    expect(
      () =>
        l.engine.journal.change(ENGINE, (write) => {
          write.insert('clients', { name: 'Half', short: 'Half' })
          throw new Error('no')
        }).result,
    ).toThrow('no')
    expect(() =>
      l.engine.journal.together(
        () => (
          l.engine.journal.change(ENGINE, (w) => w.insert('clients', { name: 'H', short: 'H' }))
            .result,
          l.engine.journal.change(ENGINE, () => Number.parseInt('x').toFixed(101)).result
        ),
      ),
    ).toThrow()
    expect(l.rows("select 1 from clients where name like 'H%'")).toEqual([])
    expect(heard).toEqual([])
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('clients', { name: 'Whole', short: 'Whole' }),
    )
    expect(heard).toEqual([1])
  })
  it('keeps no password in its record', () => {
    const l = lab()
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { passwordHash: 'scrypt$secret' }),
    )
    expect(l.rows("select 1 from journal where after like '%secret%'")).toEqual([])
  })
  it('undo restores every row of the last change, once, and not over somebody else', () => {
    const l = lab()
    const task = makeTask(l.engine, l.tobias, {
      title: 'Post',
      due: '2026-11-25',
      assignees: [l.tobias.id],
      checklist: ['Cash'],
    }).result
    const before = l.rows('select title, state, due, closedAt from tasks where id = ?', task.id)
    editTask(l.engine, l.tobias, task.id, {
      patch: { state: 'done', assignees: [l.devika.id] },
      seen: null,
    })
    undoChange(l.engine, l.tobias, l.latest()).whole()
    expect(l.rows('select title, state, due, closedAt from tasks where id = ?', task.id)).toEqual(
      before,
    )
    expect(taskSheet(l.engine, l.tobias, task.id).assignees.map((a) => a.id)).toEqual([l.tobias.id])
    editTask(l.engine, l.tobias, task.id, { patch: { title: 'Post it' }, seen: null })
    const mine = l.latest()
    addComment(l.engine, l.devika, task.id, 'Wait')
    editTask(l.engine, l.devika, task.id, { patch: { title: 'Post them' }, seen: null })
    expect(() => undoChange(l.engine, l.tobias, mine).whole().result).toThrow(
      /changed again afterwards/,
    )
    expect(() => undoChange(l.engine, l.tobias, l.latest()).whole().result).toThrow(
      /Only who made a change/,
    )
  })
})

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

describe('series', () => {
  const body = (l: Lab, rule: string | object, more: object = {}) => ({
    name: 'Run',
    leadDays: 2,
    schedule: { start: '2026-11-20', rule: rule as string, roll: 'following' as const },
    makes: {
      kind: 'task' as const,
      title: 'Pay {period: MMMM}',
      description: '',
      clientId: l.client,
      projectId: null,
      assignees: [l.tobias.id],
      estimate: 30,
      checklist: ['Check'],
      period: { of: 'month' as const, which: 'before' as const },
    },
    ...more,
  })
  it('makes each occurrence once, so many working days ahead, rolled with the reason', () => {
    const l = lab()
    const made = makeSeries(l.engine, l.imogen, body(l, 'FREQ=MONTHLY;BYMONTHDAY=28')).result
    expect(made.next.slice(0, 2).map((n) => [n.scheduled, n.date, n.makeOn, n.why])).toEqual([
      ['2026-11-28', '2026-11-30', '2026-11-26', 'Sat 28 Nov is not a working day'],
      ['2026-12-28', '2026-12-29', '2026-12-23', 'Mon 28 Dec is Bank holiday'],
    ])
    l.until('2026-11-26T05:59')
    expect(l.rows('select 1 from tasks')).toHaveLength(0)
    l.until('2026-11-26T06:00')
    for (let i = 0; i < 3; i++) l.runner.tick()
    expect(l.rows('select title, due, occurrence from tasks')).toEqual([
      { title: 'Pay October', due: '2026-11-30', occurrence: '2026-11-28' },
    ])
    l.until('2026-12-23T06:00')
    expect(l.rows('select scheduled, date from occurrences order by id')).toEqual([
      { scheduled: '2026-11-28', date: '2026-11-30' },
      { scheduled: '2026-12-28', date: '2026-12-29' },
    ])
    expect(listRuns(l.engine, l.imogen, {})[0]).toMatchObject({
      outcome: 'done',
      summary: 'Made “Pay November”',
    })
  })
  it('makes what downtime missed, each once', () => {
    const l = lab()
    makeSeries(l.engine, l.imogen, body(l, 'FREQ=WEEKLY;BYDAY=WE', { leadDays: 0 }))
    l.clock.set(london('2026-12-10T12:00'))
    l.runner.tick()
    l.runner.tick()
    expect(l.rows('select due from tasks order by due')).toEqual([
      { due: '2026-11-25' },
      { due: '2026-12-02' },
      { due: '2026-12-09' },
    ])
  })
  it('refuses a schedule that has no date left, and ends when the last is made', () => {
    const l = lab()
    expect(
      () => makeSeries(l.engine, l.imogen, body(l, 'FREQ=DAILY;UNTIL=20261120')).result,
    ).toThrow(/no date left/)
    expect(
      () => makeSeries(l.engine, l.imogen, body(l, 'FREQ=MONTHLY;BYMONTHDAY=30;BYMONTH=2')).result,
    ).toThrow(/no date left/)
    expect(l.rows('select 1 from series')).toEqual([])
    const made = makeSeries(
      l.engine,
      l.imogen,
      body(l, 'FREQ=WEEKLY;BYDAY=WE;COUNT=1', { leadDays: 0 }),
    ).result
    l.until('2026-12-30T12:00')
    expect(seriesSheet(l.engine, l.imogen, made.id)).toMatchObject({ ended: true, next: [] })
    expect(l.rows('select 1 from tasks')).toHaveLength(1)
  })
  it.each([
    ['FREQ=MINUTELY', {}, /daily at the most/],
    ['FREQ=MONTHLY;BYMONTHDAY=32', {}, /BYMONTHDAY=32/],
    [
      'FREQ=DAILY',
      { schedule: { start: '0226-11-20', rule: 'FREQ=DAILY' } },
      /slip of the keyboard/,
    ],
    [
      'FREQ=DAILY',
      { schedule: { start: '2026-11-20', zone: 'Mars/Base', rule: 'FREQ=DAILY' } },
      /not a time zone/,
    ],
  ])('a schedule of %s %j is refused, and nothing is made', (rule, more, says) => {
    const l = lab()
    expect(() => makeSeries(l.engine, l.imogen, body(l, rule, more)).result).toThrow(says)
    expect(l.rows('select 1 from series')).toEqual([])
  })
  it('what passes while paused is skipped', () => {
    const l = lab()
    const made = makeSeries(
      l.engine,
      l.imogen,
      body(l, 'FREQ=WEEKLY;BYDAY=WE', { leadDays: 0 }),
    ).result
    switchSeries(l.engine, l.imogen, made.id, false)
    l.until('2026-12-10T12:00')
    expect(l.rows('select 1 from tasks')).toHaveLength(0)
    switchSeries(l.engine, l.imogen, made.id, true)
    l.until('2026-12-16T12:00')
    expect(l.rows('select due from tasks')).toEqual([{ due: '2026-12-16' }])
  })
  it('makes a project from a template on its anchor', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    makeSeries(l.engine, l.imogen, {
      ...body(l, { workday: 5, of: 'month' }),
      leadDays: 6,
      makes: {
        kind: 'project',
        templateId: template.id,
        clientId: l.client,
        leadId: l.imogen.id,
        roles: { keeper: { person: l.tobias.id } },
        name: '{client}, books for {period: MMMM yyyy}',
        period: { of: 'month', which: 'before' },
      },
    })
    l.until('2026-11-27T06:00')
    expect(l.rows('select name, anchor from projects')).toEqual([
      { name: 'Mossgate, books for November 2026', anchor: '2026-12-07' },
    ])
    expect(l.rows('select due from tasks order by due')).toEqual([
      { due: '2026-11-30' },
      { due: '2026-12-03' },
      { due: '2026-12-07' },
    ])
  })
})

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

describe('notices and mail', () => {
  it('work given and comments are told once, from the journal, to the others', () => {
    const l = lab()
    const task = makeTask(l.engine, l.imogen, {
      title: 'Post',
      assignees: [l.tobias.id, l.imogen.id],
    }).result
    addComment(l.engine, l.tobias, task.id, 'On it')
    l.runner.tick()
    l.runner.tick()
    expect(listNotices(l.engine, l.tobias).map((n) => n.body)).toEqual(['Imogen gave you “Post”'])
    expect(listNotices(l.engine, l.imogen).map((n) => n.body)).toEqual(['Tobias on “Post”: On it'])
  })
  it('what a rule did is taken back with its mail, unless that has left, which is said', async () => {
    const l = lab()
    lateRule(l)
    const late = { due: '2026-11-23', assignees: [l.tobias.id] }
    makeTask(l.engine, l.imogen, { title: 'Statements', ...late })
    makeTask(l.engine, l.imogen, { title: 'Accruals', ...late })
    l.until('2026-11-24T09:00')
    const mails = () =>
      l.rows<{ change: number; subject: string; state: string }>(
        'select "change", subject, state from outbox order by id',
      )
    const [statements, accruals] = mails().map((mail) => mail.change)
    expect(statements).not.toBe(accruals)
    const waits = undoChange(l.engine, l.imogen, statements!).whole()
    expect(waits.result.left).toEqual([])
    expect(mails().map((mail) => mail.subject)).toEqual(['Accruals is 1 working day late'])
    await deliver(l, () => Promise.resolve())
    const gone = undoChange(l.engine, l.imogen, accruals!).whole()
    expect(gone.result).toMatchObject({
      count: 1,
      left: ['A mail to tobias@quillhaven.example has left.'],
    })
    expect(mails()).toMatchObject([{ state: 'sent' }])
    // What takes back the taking back sends nothing anew.
    undoChange(l.engine, l.imogen, waits.change!).whole()
    expect(mails()).toHaveLength(1)
  })
  it('mail is tried again ever later, sent once, and given up in the end', async () => {
    const l = lab()
    lateRule(l)
    makeTask(l.engine, l.imogen, {
      title: 'Statements',
      due: '2026-11-23',
      assignees: [l.tobias.id],
    })
    l.until('2026-11-24T09:00')
    const sent: string[] = []
    let down = true
    const send = (mail: { to: string }) =>
      down ? Promise.reject(new Error('refused')) : (sent.push(mail.to), Promise.resolve())
    await deliver(l, send)
    expect(
      l.rows('select state, attempts, lastError, nextAt - ? as wait from outbox', l.clock.now()),
    ).toEqual([{ state: 'waiting', attempts: 1, lastError: 'refused', wait: 60_000 }])
    down = false
    await deliver(l, send)
    expect(sent).toEqual([])
    l.clock.set(l.clock.now() + 60_000)
    await deliver(l, send)
    await deliver(l, send)
    expect(sent).toEqual(['tobias@quillhaven.example'])
    l.engine.journal.change(ENGINE, (write) =>
      write.update('outbox', 1, { state: 'waiting', attempts: 6 }),
    )
    down = true
    await deliver(l, send)
    expect(l.rows('select state from outbox')).toEqual([{ state: 'failed' }])
  })
})
