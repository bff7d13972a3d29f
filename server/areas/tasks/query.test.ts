import { taskRows } from './rows.ts'
import { addComment } from './comments.ts'
import { describe, expect, it } from 'vitest'
import type { Group, Test } from '#core/conditions/condition.ts'
import type { TaskQuery } from '#contract/query.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { makeProject } from '../projects/service.ts'
import { outline } from './outline.ts'
import { taskPage } from './page.ts'

import { editTask, makeTask } from './service.ts'

const query = (part: Partial<TaskQuery> = {}): TaskQuery => ({
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: null,
  tree: false,
  sums: [],
  every: false,
  ...part,
})
const all = (...of: (Test | Group)[]): Group => ({ match: 'all', of })
const titles = (l: Lab, part: Partial<TaskQuery>, who = l.imogen) =>
  taskRows(
    l.engine,
    who,
    outline(l.engine, who, query(part)).groups.flatMap((g) => g.ids),
  ).map((t) => t.title)
const groups = (l: Lab, part: Partial<TaskQuery>) =>
  outline(l.engine, l.imogen, query(part)).groups.map((g) => [g.name, g.ids.length] as const)

/** Today is Monday 23 November 2026, 08:00. */
function room() {
  const l = lab()
  const field = makeField(l.engine, l.imogen, {
    name: 'Fee',
    kind: 'money',
    options: { currency: 'GBP' },
    projectId: null,
    templateId: null,
    hidden: false,
  }).result[0]!
  const stage = makeField(l.engine, l.imogen, {
    name: 'Records',
    kind: 'choice',
    options: {
      choices: [
        { key: 'asked', name: 'Asked for', colour: 'ochre' },
        { key: 'here', name: 'Here', colour: 'fern' },
      ],
    },
    projectId: null,
    templateId: null,
    hidden: false,
  }).result[1]!
  const tag = makeTag(l.engine, l.tobias, { name: 'records', colour: 'teal' }).result
  const project = makeProject(l.engine, l.imogen, {
    name: 'Books',
    clientId: l.client,
    phases: ['Gather', 'Close'],
  }).result
  const make = (title: string, more: object = {}) =>
    makeTask(l.engine, l.imogen, { title, ...more }).result.id
  const ids = {
    late: make('Late', {
      due: '2026-11-20',
      assignees: [l.tobias.id],
      estimate: 60,
      priority: 'urgent',
      fields: { [field.id]: 12_50, [stage.id]: 'asked' },
    }),
    today: make('Today', {
      due: '2026-11-23',
      dueTime: '10:00',
      assignees: [l.tobias.id, l.devika.id],
      estimate: 30,
      tags: [tag.id],
    }),
    week: make('Week', {
      due: '2026-11-27',
      projectId: project.id,
      phaseId: project.phases[0]!.id,
      fields: { [field.id]: 7_50 },
    }),
    far: make('Far', {
      due: '2027-02-01',
      clientId: l.client,
      description: '<p>Ring the <strong>practice</strong></p>',
    }),
    none: make('None 100%'),
    done: make('Done', { due: '2026-11-10', state: 'done' }),
  }
  return { l, field, stage, tag, project, ids }
}

describe('filters', () => {
  it.each<[string, (r: ReturnType<typeof room>) => Group, string[]]>([
    [
      'open',
      () => all({ field: 'open', op: 'is', value: true }),
      ['Late', 'Today', 'Week', 'Far', 'None 100%'],
    ],
    ['late', () => all({ field: 'late', op: 'is', value: true }), ['Late']],
    [
      'this week',
      () => all({ field: 'due', op: 'within', value: { period: 'week', shift: 0 } }),
      ['Today', 'Week'],
    ],
    [
      'before today',
      () => all({ field: 'due', op: 'before', value: { days: 0 } }),
      ['Done', 'Late'],
    ],
    [
      'after four working days',
      () => all({ field: 'due', op: 'after', value: { days: 4, working: true } }),
      ['Far'],
    ],
    ['no date', () => all({ field: 'due', op: 'empty' }), ['None 100%']],
    [
      'on me',
      ({ l }) => all({ field: 'assignee', op: 'in', value: [l.tobias.id] }),
      ['Late', 'Today'],
    ],
    [
      'on nobody',
      () => all({ field: 'assignee', op: 'empty' }, { field: 'open', op: 'is', value: true }),
      ['Week', 'Far', 'None 100%'],
    ],
    [
      'not tagged',
      ({ tag }) =>
        all(
          { field: 'tag', op: 'not-in', value: [tag.id] },
          { field: 'open', op: 'is', value: true },
        ),
      ['Late', 'Week', 'Far', 'None 100%'],
    ],
    [
      'client, through its project too',
      ({ l }) => all({ field: 'client', op: 'in', value: [l.client] }),
      ['Week', 'Far'],
    ],
    [
      'title with a sign that SQL reads',
      () => all({ field: 'title', op: 'has', value: '100%' }),
      ['None 100%'],
    ],
    [
      'words of a description, unfinished',
      () => all({ field: 'words', op: 'has', value: 'pract' }),
      ['Far'],
    ],
    [
      'money',
      ({ field }) => all({ field: `field:${field.id}`, op: 'at-least', value: 1000 }),
      ['Late'],
    ],
    [
      'choice',
      ({ stage }) => all({ field: `field:${stage.id}`, op: 'in', value: ['asked'] }),
      ['Late'],
    ],
    [
      'priority or week',
      () => ({
        match: 'any',
        of: [
          { field: 'priority', op: 'in', value: ['urgent'] },
          { field: 'title', op: 'has', value: 'week' },
        ],
      }),
      ['Late', 'Week'],
    ],
    [
      'none of two',
      () =>
        all({
          match: 'none',
          of: [
            { field: 'due', op: 'empty' },
            { field: 'open', op: 'is', value: false },
          ],
        }),
      ['Late', 'Today', 'Week', 'Far'],
    ],
    [
      'made today',
      () =>
        all(
          { field: 'created', op: 'within', value: { period: 'day', shift: 0 } },
          { field: 'estimate', op: 'at-least', value: 30 },
        ),
      ['Late', 'Today'],
    ],
    [
      'closed today',
      () => all({ field: 'closed', op: 'within', value: { period: 'day', shift: 0 } }),
      ['Done'],
    ],
  ])('%s', (_, filter, found) => {
    const r = room()
    expect(titles(r.l, { filter: filter(r) })).toEqual(found)
  })
  it('tells the first and the last day that any of it lies on', () => {
    const { l } = room()
    const span = (part: Partial<TaskQuery>) => outline(l.engine, l.imogen, query(part)).span
    const days = taskRows(
      l.engine,
      l.imogen,
      outline(l.engine, l.imogen, query({})).groups.flatMap((g) => g.ids),
    ).flatMap(({ start, due }) => (due ? [start ?? due, due] : []))
    days.sort()
    expect(span({})).toEqual({ first: days[0], last: days.at(-1) })
    expect(days[0]).not.toBe(days.at(-1))
    expect(span({ filter: all({ field: 'due', op: 'empty' }) })).toBe(null)
  })
  it('“whoever looks” is who asks', () => {
    const { l } = room()
    const mine = { filter: all({ field: 'assignee', op: 'in', value: ['me'] }) }
    expect(titles(l, mine, l.tobias)).toEqual(['Late', 'Today'])
    expect(titles(l, mine, l.devika)).toEqual(['Today'])
  })
  it('a field that is gone is named with its place; the rest of the view holds', () => {
    const { l } = room()
    const found = outline(
      l.engine,
      l.imogen,
      query({
        filter: all(
          { field: 'late', op: 'is', value: true },
          { match: 'any', of: [{ field: 'field:999', op: 'filled' }] },
        ),
        sort: [{ field: 'field:999', down: false }],
        group: 'field:999',
      }),
    )
    expect(found.faults.map((f) => f.place).sort()).toEqual(['1.0', 'group', 'sort.0'])
    expect(found.total).toBe(1)
  })
  it('a value that does not fit is named, never sent to the database', () => {
    const { l } = room()
    const faults = (clause: Test) =>
      outline(l.engine, l.imogen, query({ filter: all(clause) })).faults.map((f) => f.detail)
    expect(faults({ field: 'due', op: 'before', value: '2026-02-30' })[0]).toMatch(/2026-02-30/)
    expect(faults({ field: 'estimate', op: 'at-least', value: 'x' as never })).toEqual([
      '“Estimate” needs a number.',
    ])
    expect(faults({ field: 'title', op: 'before', value: '2026-01-01' })).toEqual([
      '“Title” cannot be asked like that.',
    ])
    expect(faults({ field: "title'; drop table tasks; --", op: 'filled' })).toHaveLength(1)
  })
  it('archived tasks are out of the way until they are asked for', () => {
    const { l, ids } = room()
    editTask(l.engine, l.imogen, ids.far, { patch: { archived: true }, seen: null })
    expect(titles(l, {})).not.toContain('Far')
    expect(titles(l, { filter: all({ field: 'archived', op: 'is', value: true }) })).toEqual([
      'Far',
    ])
  })
  it('guests find only what was handed to them', () => {
    const { l, ids } = room()
    editTask(l.engine, l.imogen, ids.week, { patch: { assignees: [l.corrie.id] }, seen: null })
    expect(titles(l, {}, l.corrie)).toEqual(['Week'])
    expect(
      outline(l.engine, l.corrie, query({ group: 'assignee', every: true })).groups.map(
        (g) => g.name,
      ),
    ).toEqual(['Corrie'])
  })
  it('the date of entering a state is kept and can be asked for', () => {
    const { l, ids } = room()
    l.clock.set(l.clock.now() - 3 * 86_400_000)
    editTask(l.engine, l.tobias, ids.late, { patch: { state: 'waiting' }, seen: null })
    l.clock.set(l.clock.now() + 3 * 86_400_000)
    expect(
      titles(l, { filter: all({ field: 'entered', op: 'before', value: { days: -1 } }) }),
    ).toEqual([])
    const waiting = l.rows<{ id: number }>("select id from states where kind = 'waiting'")[0]!.id
    expect(
      titles(l, {
        filter: all({ field: `entered:${waiting}`, op: 'within', value: '2026-11-20' }),
      }),
    ).toEqual(['Late'])
  })
})

describe('groups, order and sums', () => {
  it('can be by what a task belongs to', () => {
    const { l, project } = room()
    l.engine.journal.change(ENGINE, (write) =>
      write.update('projects', project.id, { leadId: l.devika.id, health: 'watch' }),
    )
    const open = all({ field: 'open', op: 'is', value: true })
    expect(groups(l, { group: 'client.tier', filter: open })).toEqual([
      ['Gold', 2],
      ['Not chosen', 3],
    ])
    expect(groups(l, { group: 'project.lead', filter: open })).toEqual([
      ['Devika', 1],
      ['Nobody', 4],
    ])
    expect(groups(l, { group: 'project.health', filter: open })[0]).toEqual([
      'Keep an eye on it',
      1,
    ])
    expect(titles(l, { sort: [{ field: 'client.name', down: false }], filter: open })[0]).toBe(
      'Week',
    )
    // Of several people there is no one group.
    const faults = outline(l.engine, l.imogen, query({ group: 'assignee.access' })).faults
    expect(faults).toEqual([
      { place: 'group', detail: '“On it: access” cannot do that; choose another.' },
    ])
  })
  it('stand in the order of their field, what has none last', () => {
    const { l, field, stage } = room()
    const open = all({ field: 'open', op: 'is', value: true })
    expect(groups(l, { group: 'due', filter: open })).toEqual([
      ['Slipped', 1],
      ['Today', 1],
      ['This week', 1],
      ['Later', 1],
      ['No date', 1],
    ])
    // What is finished has slipped no more, whenever it was due.
    expect(groups(l, { group: 'due' })).toEqual([
      ['Slipped', 1],
      ['Today', 1],
      ['This week', 1],
      ['Later', 1],
      ['No date', 1],
      ['Finished', 1],
    ])
    expect(groups(l, { group: 'week', filter: open })).toEqual([
      ['Week 47, 16 to 22 November', 1],
      ['Week 48, 23 to 29 November', 2],
      ['Week 5, 1 to 7 February', 1],
      ['No date', 1],
    ])
    expect(groups(l, { group: 'priority', filter: open })).toEqual([
      ['Urgent', 1],
      ['Normal', 4],
    ])
    expect(groups(l, { group: 'assignee', filter: open })).toEqual([
      ['Devika', 1],
      ['Tobias', 2],
      ['Nobody', 3],
    ])
    expect(groups(l, { group: `field:${stage.id}`, filter: open, every: true })).toEqual([
      ['Asked for', 1],
      ['Here', 0],
      ['Not chosen', 4],
    ])
    const sums = outline(l.engine, l.imogen, query({ sums: [`field:${field.id}`] })).groups[0]!
    expect(sums.sums).toEqual({ [`field:${field.id}`]: 20_00 })
    expect(sums.minutes).toBe(90)
  })
  it('every state is a column, those of other sets stand with their namesakes', () => {
    const { l } = room()
    expect(groups(l, { group: 'state', every: true }).map(([name]) => name)).toEqual([
      'Not started',
      'Under way',
      'Waiting',
      'In review',
      'Done',
      'Dropped',
    ])
  })
  it('rows are ordered by a field, either way, what has none last', () => {
    const { l } = room()
    expect(titles(l, { sort: [{ field: 'estimate', down: true }] }).slice(0, 2)).toEqual([
      'Late',
      'Today',
    ])
    expect(titles(l, { sort: [{ field: 'estimate', down: false }] }).slice(0, 2)).toEqual([
      'Today',
      'Late',
    ])
    expect(titles(l, { sort: [{ field: 'due', down: true }] }).at(-1)).toBe('None 100%')
  })
  it('subtasks stand under their parents, however deep', () => {
    const { l, ids } = room()
    const child = makeTask(l.engine, l.imogen, {
      title: 'Child',
      parentId: ids.late,
      due: '2026-11-01',
    }).result.id
    makeTask(l.engine, l.imogen, { title: 'Grandchild', parentId: child })
    const found = outline(l.engine, l.imogen, query({ tree: true })).groups[0]!
    const at = found.ids.indexOf(ids.late)
    expect(taskRows(l.engine, l.imogen, found.ids.slice(at, at + 3)).map((t) => t.title)).toEqual([
      'Late',
      'Child',
      'Grandchild',
    ])
    expect(found.depths!.slice(at, at + 3)).toEqual([0, 1, 2])
  })
  it('pages follow one another without gaps or repeats', () => {
    const { l } = room()
    l.engine.journal.change(ENGINE, (write) => {
      for (let i = 0; i < 25; i++) write.insert('tasks', { title: `n${i}`, createdAt: write.at })
    })
    const seen: number[] = []
    for (let cursor: string | null = '0'; cursor !== null;) {
      const page: ReturnType<typeof taskPage> = taskPage(l.engine, l.imogen, query(), {
        limit: 10,
        cursor: cursor,
      })
      seen.push(...page.tasks.map((t) => t.id))
      cursor = page.next
    }
    expect(new Set(seen).size).toBe(31)
    expect(seen).toHaveLength(31)
    expect(() => taskPage(l.engine, l.imogen, query(), { limit: 10, cursor: 'x' })).toThrow(
      /cursor/,
    )
  })
  it('comments are found by their words, at their task', () => {
    const { l, ids } = room()
    addComment(l.engine, l.tobias, ids.none, '<p>The calibration certificate is missing</p>')
    expect(titles(l, { filter: all({ field: 'words', op: 'has', value: 'certificate' }) })).toEqual(
      ['None 100%'],
    )
  })
})
