import { describe, expect, it } from 'vitest'
import { isoDate } from '#core/calendar/dates.ts'
import { actionKinds } from '#contract/actions/index.ts'
import { ruleBody, type Action } from '#contract/rules.ts'
import type { NewTask, TaskSheet } from '#contract/tasks.ts'
import { BOOKS, ENGINE, lab, type Lab } from '../../test/lab.ts'
import { makeTag } from '../fields/service.ts'
import { undoChange } from '../journal/undo.ts'
import { listNotices } from '../notices/service.ts'
import { shareProject } from '../access/service.ts'
import { makeProject } from '../projects/service.ts'
import { makeSeries } from '../series/service.ts'
import { chooseSet, listSets, saveSet } from '../states/service.ts'
import { makeTask, taskSheet } from '../tasks/service.ts'
import { makeTemplate } from '../templates/service.ts'
import { listRuns } from './log.ts'
import { makeRule, switchRule } from './service.ts'

/** What an action is tried on, in a lab whose first tag is “late”. */
interface Case {
  readonly action: (l: Lab) => Action
  readonly task?: (l: Lab) => Partial<NewTask>
  /** What of the task is as it says afterwards. */
  readonly sees: (sheet: TaskSheet, l: Lab) => unknown
  readonly as: unknown
  readonly says: RegExp
}
const names = (rows: readonly { name: string }[]) => rows.map(({ name }) => name)
const person = (l: Lab, who: 'imogen' | 'tobias' | 'devika' | 'corrie') =>
  ({ is: 'person', id: l[who].id }) as const

/** In the only phase of a project. */
function inPhase(l: Lab) {
  const body = { name: 'Books', clientId: l.client, phases: ['Gather'] }
  const { id, phases } = makeProject(l.engine, l.imogen, body).result
  return { projectId: id, phaseId: phases[0]!.id }
}
/** What tells people or waits leaves nothing that an undo could take back. */
const LEAVES_NOTHING = new Set(['remind', 'keep-reminding', 'tell', 'wait', 'stop'])

/** Every kind of action, with what it does. Monday is 23 November 2026. */
const CASES: Readonly<Record<string, Case>> = {
  remind: {
    action: (l) => ({ kind: 'remind', who: person(l, 'devika'), daily: false, text: '{task}!' }),
    sees: (_, l) => listNotices(l.engine, l.devika).map((n) => [n.kind, n.body]),
    ...{ as: [['reminder', 'Post!']], says: /^Reminded Devika$/ },
  },
  tell: {
    action: (l) => ({ kind: 'tell', who: person(l, 'devika'), mail: true, text: 'See {task}' }),
    sees: (_, l) => l.rows('select recipient from outbox'),
    ...{ as: [{ recipient: 'devika@quillhaven.example' }], says: /^Told Devika$/ },
  },
  comment: {
    action: () => ({ kind: 'comment', text: '<b>{client}</b> waits' }),
    sees: ({ discussion }) => discussion.map(({ author, body }) => [author, body]),
    ...{ as: [[null, '<p>&lt;b&gt;Mossgate&lt;/b&gt; waits</p>']], says: /^Commented$/ },
  },
  assign: {
    action: (l) => ({ kind: 'assign', who: person(l, 'devika') }),
    sees: ({ assignees }) => names(assignees),
    ...{ as: ['Devika'], says: /^Assigned Devika$/ },
  },
  'add-people': {
    action: (l) => ({ kind: 'add-people', who: person(l, 'devika') }),
    sees: ({ assignees }) => names(assignees).sort(),
    ...{ as: ['Devika', 'Tobias'], says: /^Put Devika on it$/ },
  },
  'take-off': {
    action: () => ({ kind: 'take-off', who: { is: 'assignees' } }),
    sees: ({ assignees }) => names(assignees),
    ...{ as: [], says: /^Took Tobias off it$/ },
  },
  follow: {
    action: (l) => ({ kind: 'follow', who: person(l, 'imogen') }),
    task: (l) => ({ followers: [l.devika.id] }),
    sees: ({ followers }) => names(followers).sort(),
    ...{ as: ['Devika', 'Imogen'], says: /^Added Imogen as a follower$/ },
  },
  'set-state': {
    action: () => ({ kind: 'set-state', to: 'waiting' }),
    sees: ({ state, stateName }) => [state, stateName],
    ...{ as: ['waiting', 'Waiting'], says: /^Made it waiting$/ },
  },
  'set-priority': {
    action: () => ({ kind: 'set-priority', to: 'urgent' }),
    sees: ({ priority }) => priority,
    ...{ as: 'urgent', says: /^Set priority urgent$/ },
  },
  'move-due': {
    action: () => ({ kind: 'move-due', days: 2, unit: 'working', from: 'due' }),
    task: () => ({ due: '2026-11-27' }),
    sees: ({ due, firstDue, postponed }) => [due, firstDue, postponed],
    // From Friday, Monday and Tuesday are the two working days, counted by hand.
    ...{ as: ['2026-12-01', '2026-11-27', 1], says: /^Made it due Tue 1 Dec$/ },
  },
  tag: {
    action: () => ({ kind: 'tag', off: false, tags: [1] }),
    sees: ({ tags }) => names(tags),
    ...{ as: ['late'], says: /^Tagged it “late”$/ },
  },
  'add-step': {
    action: () => ({ kind: 'add-step', title: 'Call {client}' }),
    task: () => ({ checklist: ['First'] }),
    sees: ({ checklist }) => checklist.map(({ title }) => title),
    ...{ as: ['First', 'Call Mossgate'], says: /^Added “Call Mossgate” to its checklist$/ },
  },
  'set-field': {
    action: () => ({ kind: 'set-field', field: 'estimate', value: 90 }),
    sees: ({ estimate }) => estimate,
    ...{ as: 90, says: /^Set estimate to 1h 30m$/ },
  },
  'set-date': {
    action: () => ({ kind: 'set-date', field: 'start', days: 5, unit: 'working' }),
    sees: ({ start }) => start,
    ...{ as: '2026-11-30', says: /^Set start to Mon 30 Nov$/ },
  },
  tick: {
    action: () => ({ kind: 'tick', title: 'CARDS' }),
    task: () => ({ checklist: ['Cash', 'Cards'] }),
    sees: ({ checklist }) => checklist.map(({ title, done }) => [title, done]),
    as: [
      ['Cash', false],
      ['Cards', true],
    ],
    says: /^Ticked “CARDS”$/,
  },
  'finish-phase': {
    action: () => ({ kind: 'finish-phase' }),
    task: inPhase,
    sees: (_, l) => l.rows('select state from tasks'),
    ...{ as: [{ state: 'done' }], says: /^Finished Gather: 1 task done$/ },
  },
  'finish-project': {
    action: () => ({ kind: 'finish-project' }),
    task: inPhase,
    sees: (_, l) => l.rows('select closedAt is null as open from projects'),
    ...{ as: [{ open: 0 }], says: /^Finished Books$/ },
  },
  'project-state': {
    action: () => ({ kind: 'project-state', to: 'hold' }),
    task: inPhase,
    sees: (_, l) => l.rows('select state, heldOn from projects'),
    ...{ as: [{ state: 'hold', heldOn: '2026-11-23' }], says: /^Set Books to on hold$/ },
  },
  'start-project': {
    action: (l) => {
      makeTemplate(l.engine, l.imogen, BOOKS)
      return { kind: 'start-project', template: 1, name: 'Books of {client}', days: 20 }
    },
    // Twenty working days after Monday 23 November, counted by hand: 21 December.
    sees: (_, l) =>
      l.rows(
        'select name, clientId, anchor, (select count(*) from tasks t where t.projectId = p.id) ' +
          'as tasks from projects p',
      ),
    as: [{ name: 'Books of Mossgate', clientId: 1, anchor: '2026-12-21', tasks: 3 }],
    says: /^Started “Books of Mossgate”$/,
  },
  'bring-next': {
    action: (l) => {
      const makes = {
        ...{ kind: 'task' as const, title: 'Call', description: '', clientId: l.client },
        ...{ projectId: null, assignees: [], estimate: null, checklist: [] },
        period: { of: 'month' as const, which: 'same' as const },
      }
      const wait = { after: 5, unit: 'working' as const }
      const { id } = makeSeries(l.engine, l.imogen, {
        ...{ name: 'Calls', makes, leadDays: 0 },
        schedule: { kind: 'after-event', start: '2026-11-23', wait, roll: 'none' },
      }).result
      return { kind: 'bring-next', series: id }
    },
    // Five working days after Monday 23 November.
    sees: (_, l) => l.rows('select title, due from tasks where seriesId is not null'),
    ...{ as: [{ title: 'Call', due: '2026-11-30' }], says: /^Made the next of “Calls”$/ },
  },
  share: {
    action: (l) => ({ kind: 'share', who: person(l, 'corrie'), may: 'comment' }),
    task: inPhase,
    sees: (_, l) => l.rows('select may from shares'),
    ...{ as: [{ may: 'comment' }], says: /^Shared Books with Corrie$/ },
  },
  unshare: {
    action: (l) => ({ kind: 'unshare', who: person(l, 'corrie') }),
    task(l) {
      const place = inPhase(l)
      const shared = { people: [l.corrie.id], may: 'view' as const }
      shareProject(l.engine, l.imogen, place.projectId, shared)
      return place
    },
    sees: (_, l) => l.rows('select may from shares'),
    ...{ as: [], says: /^Shared Books with Corrie no more$/ },
  },
  'keep-reminding': {
    action: (l) => ({
      ...{ kind: 'keep-reminding', who: person(l, 'devika'), time: '09:00', unit: 'working' },
      ...{ until: { match: 'all', of: [] }, text: '{task} waits' },
    }),
    sees: (_, l) => l.rows('select kind from alarms'),
    ...{ as: [{ kind: 'again' }], says: /^Reminds daily from 09:00$/ },
  },
  wait: {
    action: () => ({ kind: 'wait', amount: 2, unit: 'hours' }),
    sees: (_, l) => l.rows('select kind from alarms'),
    ...{ as: [{ kind: 'wait' }], says: /^Waits until 10:00$/ },
  },
  stop: {
    action: () => ({ kind: 'stop' }),
    sees: ({ state }) => state,
    ...{ as: 'not-started', says: /^Stopped there$/ },
  },
  'make-task': {
    action: (l) => ({ kind: 'make-task', title: 'Call about {task}', who: person(l, 'devika') }),
    sees: (_, l) => l.rows('select title, due, parentId from tasks where id > 1'),
    as: [{ title: 'Call about Post', due: '2026-11-24', parentId: null }],
    says: /^Made task #2 “Call about Post” for Devika$/,
  },
  'make-subtask': {
    action: () => ({ kind: 'make-subtask', title: 'Check {task}', who: { is: 'assignees' } }),
    sees: (_, l) => l.rows('select title, parentId from tasks where id > 1'),
    as: [{ title: 'Check Post', parentId: 1 }],
    says: /^Made subtask #2 “Check Post” for Tobias$/,
  },
}

function run(made: Case) {
  const l = lab()
  makeTag(l.engine, l.imogen, { name: 'late', colour: 'rose' })
  const body = {
    ...{ name: 'R', ownerId: l.imogen.id },
    definition: {
      ...{ trigger: { kind: 'made' as const }, conditions: { match: 'all' as const, of: [] } },
      actions: [made.action(l)],
    },
  }
  expect(ruleBody.validate(body, { convert: false }).error).toBeUndefined()
  const rule = makeRule(l.engine, l.imogen, body).result
  switchRule(l.engine, l.imogen, rule.id, { on: true })
  l.runner.tick()
  const { id } = makeTask(l.engine, l.imogen, {
    ...{ title: 'Post', clientId: l.client, assignees: [l.tobias.id] },
    ...made.task?.(l),
  }).result
  const before = made.sees(taskSheet(l.engine, l.imogen, id), l)
  l.runner.tick()
  const seen = () => made.sees(taskSheet(l.engine, l.imogen, id), l)
  return { l, rule, before, seen, log: () => listRuns(l.engine, l.imogen, { ruleId: rule.id }) }
}

describe('every action does what it says, says what it did, and is taken back by its run', () => {
  it('none is left out', () =>
    expect(Object.keys(CASES).sort()).toEqual(
      actionKinds()
        .map(({ kind }) => kind)
        .sort(),
    ))
  it.each(Object.entries(CASES))('%s', (kind, made) => {
    const { l, before, seen, log } = run(made)
    expect(seen()).toEqual(made.as)
    // What a rule makes wakes it too, and makes nothing further: that run is the newest.
    const entry = log().at(-1)
    expect(entry).toMatchObject({ outcome: 'done', summary: expect.stringMatching(made.says) })
    if (LEAVES_NOTHING.has(kind)) return
    undoChange(l.engine, l.imogen, entry!.change!).whole()
    expect(seen()).toEqual(before)
  })
  it.each([
    ['move-due', { days: 1, unit: 'working', from: 'due' }, 'It has no due date to count from'],
    ['take-off', { who: { is: 'lead' } }, 'Taking off found nobody (the project has no lead)'],
    ['take-off', { who: { is: 'owner' } }, 'Imogen was not on it'],
    ['tag', { off: false, tags: [1, 9] }, 'A tag that it names is gone'],
  ] as const)('%s that finds nothing to do says why: %j', (kind, args, why) => {
    const { l, log } = run({
      action: () => ({ kind, ...args }) as unknown as Action,
      ...{ sees: () => null, as: null, says: /./ },
    })
    expect(log()[0]!.reasons).toContain(why)
    expect(l.rows('select dueTime from tasks where id = 1')).toHaveLength(1)
  })
  it.each([
    ['comment', { text: '{project}' }, {}, 'Its words came out empty'],
    ['add-step', { title: '{project}' }, {}, 'Its words came out empty'],
    [
      ...(['move-due', { days: 0, unit: 'calendar', from: 'today' }] as const),
      ...([
        { start: '2026-12-01', due: '2026-12-03' },
        'It would be due before it starts',
      ] as const),
    ],
  ] as const)('%s %j on %j leaves it, and says why', (kind, args, task, why) => {
    const { l, log } = run({
      action: () => ({ kind, ...args }) as unknown as Action,
      ...{ task: () => task, sees: () => null, as: null, says: /./ },
    })
    expect(log()[0]!.reasons).toContain(why)
    expect(l.rows('select due from tasks')).toEqual([{ due: 'due' in task ? task.due : null }])
    expect(l.rows('select 1 from comments union all select 1 from checklistItems')).toEqual([])
  })
  it('a state that a project does not have is left, and fails nothing', () => {
    const { log, seen } = run({
      action: () => ({ kind: 'set-state', to: 'waiting' }),
      task: (l) => {
        const projectId = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result.id
        chooseSet(l.engine, l.imogen, projectId, { setId: 1, copy: true }).whole()
        const { id } = listSets(l.engine, l.imogen).at(-1)!
        const states = (['not-started', 'done'] as const).map((kind) => ({
          ...{ name: kind, kind, colour: null, only: 'anyone' as const },
        }))
        saveSet(l.engine, l.imogen, id, { body: { name: 'Two', states }, seen: null }).whole()
        return { projectId }
      },
      ...{ sees: ({ state }) => state, as: null, says: /./ },
    })
    expect(seen()).toBe('not-started')
    expect(log()[0]).toMatchObject({
      ...{ outcome: 'done', reasons: ['The states here have none of the kind “waiting”'] },
    })
  })
  it('whoever is away is taken off and follows themselves; a stand-in does their work alone', () => {
    const away = (l: Lab) =>
      l.engine.journal.change(ENGINE, (write) => {
        write.update('people', l.tobias.id, { standInId: l.devika.id })
        const [firstDay, lastDay] = [isoDate('2026-11-23'), isoDate('2026-11-27')]
        write.insert('timeOff', { personId: l.tobias.id, firstDay, lastDay })
      })
    const tried = (action: (l: Lab) => Action, sees: Case['sees'], more: Partial<NewTask> = {}) =>
      run({
        ...{ action, sees, as: null, says: /./ },
        task: (l) => (away(l), more),
      }).seen()
    const on: Case['sees'] = ({ assignees }) => names(assignees)
    expect(tried(() => ({ kind: 'take-off', who: { is: 'assignees' } }), on)).toEqual([])
    const follow = (l: Lab): Action => ({ kind: 'follow', who: person(l, 'tobias') })
    expect(tried(follow, ({ followers }) => names(followers))).toEqual(['Tobias'])
    const add = (l: Lab): Action => ({ kind: 'add-people', who: person(l, 'tobias') })
    const nobody = { assignees: [] }
    expect(tried(add, on, nobody)).toEqual(['Devika'])
    // Back before it is due, they do it themselves.
    expect(tried(add, on, { ...nobody, due: '2026-12-01' })).toEqual(['Tobias'])
  })
  it.each([
    ['tag', { off: false, tags: [] }],
    ['move-due', { days: 366, unit: 'working', from: 'due' }],
    ['move-due', { days: 1.5, unit: 'working', from: 'due' }],
    ['set-state', { to: 'gone' }],
    ['add-step', { title: ' ' }],
  ])('%s %j is refused', (kind, args) => {
    const rule = { trigger: { kind: 'made' }, conditions: { match: 'all', of: [] } }
    const definition = { ...rule, actions: [{ kind, ...args }] }
    const { error } = ruleBody.validate({ name: 'R', ownerId: 1, definition }, { convert: false })
    expect(error?.message).toMatch(/actions/)
  })
})
