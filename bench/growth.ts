import type { Test } from '#core/conditions/condition.ts'
import type { TaskQuery } from '#contract/query.ts'
import { undoChange } from '#server/areas/journal/undo.ts'
import { listChanges } from '#server/areas/journal/changes.ts'
import { listNotices } from '#server/areas/notices/service.ts'
import { directory } from '#server/areas/people/directory.ts'
import { closedProjects, listProjects, projectSheet } from '#server/areas/projects/sheet.ts'
import { listRuns } from '#server/areas/rules/log.ts'
import { listRules } from '#server/areas/rules/service.ts'
import { find } from '#server/areas/search/service.ts'
import { listSeries, seriesSheet } from '#server/areas/series/sheet.ts'
import { listSets } from '#server/areas/states/service.ts'
import { activity } from '#server/areas/tasks/activity.ts'
import { bulkEdit } from '#server/areas/tasks/bulk.ts'
import { addComment } from '#server/areas/tasks/comments.ts'
import { outline } from '#server/areas/tasks/outline.ts'
import { taskPage } from '#server/areas/tasks/page.ts'
import { editTask, makeTask, taskSheet } from '#server/areas/tasks/service.ts'
import { listTemplates } from '#server/areas/templates/service.ts'
import { startProject } from '#server/areas/templates/start.ts'
import { ribbon, todaySheet } from '#server/areas/today/service.ts'
import { grow, type Grown } from './growth-firm.ts'

/**
 * The same firm 1, 10 and 100 times as large, the open work of the signed-in person the same in all
 * three: what does each question and each write cost at 10 and 100, against 1? At most twice as
 * much; where the answer itself grows, in proportion to it.
 */

const query = (scope: TaskQuery['scope'], ...of: Test[]): TaskQuery => ({
  scope,
  filter: { match: 'all', of },
  sort: [],
  group: 'due',
  tree: true,
  sums: [],
  every: false,
})
const OPEN: Test = { field: 'open', op: 'is', value: true }
const ME: Test = { field: 'assignee', op: 'in', value: ['me'] }
let turn = 0

type Work = (firm: Grown) => unknown
/** What each screen asks. */
const ASKED: Record<string, Work> = {
  today: ({ engine, viewer }) => todaySheet(engine, viewer),
  ribbon: ({ engine, viewer }) => ribbon(engine, viewer, engine.firm.today()),
  'a task’s sheet': ({ engine, viewer, own }) => taskSheet(engine, viewer, own.tasks[3]!),
  'what happened to a task': ({ engine, viewer, own }) => activity(engine, viewer, own.tasks[3]!),
  'a project of 36 tasks': ({ engine, viewer, own }) => projectSheet(engine, viewer, own.project),
  'its list': ({ engine, viewer, own }) =>
    outline(engine, viewer, query({ of: 'project', id: own.project }, OPEN)),
  'its journal': ({ engine, viewer, own }) =>
    listChanges(engine, viewer, { projectId: own.project }),
  'open work of mine': ({ engine, viewer }) =>
    outline(engine, viewer, query({ of: 'firm' }, OPEN, ME)),
  'open work of mine, by person': ({ engine, viewer }) =>
    outline(engine, viewer, query({ of: 'person', id: viewer.id }, OPEN)),
  'the journal’s first page': ({ engine, viewer }) => listChanges(engine, viewer, {}),
  'the run log': ({ engine, viewer }) => listRuns(engine, viewer, {}),
  'failed runs': ({ engine, viewer }) => listRuns(engine, viewer, { outcome: 'failed' }),
  rules: ({ engine, viewer }) => listRules(engine, viewer),
  'a series': ({ engine, viewer }) => seriesSheet(engine, viewer, 1),
  'set-up of states': ({ engine, viewer }) => listSets(engine, viewer),
  templates: ({ engine, viewer }) => listTemplates(engine, viewer),
  'a rare word': ({ engine, viewer }) => find(engine, viewer, 'autoclave'),
}
/** Each kind of write. */
const WRITTEN: Record<string, Work> = {
  'an edit of a task': ({ engine, viewer, own }) =>
    editTask(engine, viewer, own.tasks[5]!, { patch: { title: `Own ${++turn}` }, seen: null }),
  'a task closed and opened': ({ engine, viewer, own }) => {
    editTask(engine, viewer, own.tasks[6]!, { patch: { state: 'done' }, seen: null })
    editTask(engine, viewer, own.tasks[6]!, { patch: { state: 'under-way' }, seen: null })
  },
  'a comment': ({ engine, viewer, own }) =>
    addComment(engine, viewer, own.tasks[++turn % 36]!, '<p>Done</p>'),
  'a task made': ({ engine, viewer, own }) =>
    makeTask(engine, viewer, { title: 'New', projectId: own.project, due: '2026-12-04' }),
  'twenty tasks at once': ({ engine, viewer, own }) =>
    bulkEdit(engine, viewer, {
      ids: own.tasks.slice(0, 20),
      set: { priority: ++turn % 2 ? 'high' : 'low' },
    }).whole(),
  'a project of 16 tasks started': ({ engine, viewer, template, start, roles }) =>
    startProject(engine, viewer, template, start(roles, `P${++turn}`)).whole(),
  'a change taken back': ({ engine, viewer, own }) => {
    const patch = { title: `Own ${++turn}` }
    const { change } = editTask(engine, viewer, own.tasks[8]!, { patch, seen: null })
    undoChange(engine, viewer, change!).whole()
  },
  'an old start, refused to be taken back': ({ engine, viewer, old }) => {
    try {
      undoChange(engine, viewer, old.change!).whole()
    } catch {
      return
    }
    throw new Error('An old start was taken back.')
  },
  'an idle tick': ({ runner }) => runner.tick(),
}
const asked = (firm: Grown, work: Work): number => JSON.stringify(work(firm)).length
const count = ({ db }: Grown, of: string): number =>
  db.sqlite.prepare(`select count(*) from ${of}`).pluck().get() as number
/** What is asked for grows with the firm itself; with it, how much is asked for. */
const GROWING: Record<string, { work: Work; by: string; much?: (firm: Grown) => number }> = {
  'running projects': {
    work: ({ engine, viewer }) => listProjects(engine, viewer),
    by: 'its answer',
  },
  'finished projects, first page': {
    work: ({ engine, viewer }) => closedProjects(engine, viewer, { part: 'finished' }),
    by: 'its answer, up to a page',
  },
  // A change is told once: a small firm has less than a page of notices.
  notices: {
    work: ({ engine, viewer }) => listNotices(engine, viewer),
    by: 'its answer, up to a page',
  },
  directory: { work: ({ engine, viewer }) => directory(engine, viewer), by: 'its answer' },
  series: { work: ({ engine, viewer }) => listSeries(engine, viewer), by: 'its answer' },
  'outline of all open work': {
    work: ({ engine, viewer }) => outline(engine, viewer, query({ of: 'firm' }, OPEN)),
    by: 'its answer',
  },
  'a page of all open work': {
    work: ({ engine, viewer }) =>
      taskPage(engine, viewer, query({ of: 'firm' }, OPEN), { limit: 50, cursor: null }),
    by: 'all open work, which is counted and put in order',
    much: (firm) => count(firm, 'tasks where closedAt is null'),
  },
  'a common word': {
    work: ({ engine, viewer }) => find(engine, viewer, 'statements'),
    by: 'the tasks that hold the word, which are all weighed',
    much: (firm) => count(firm, 'tasks'),
  },
  'a project started by team': {
    work: ({ engine, viewer, template, start }) =>
      startProject(
        engine,
        viewer,
        template,
        start({ keeper: { team: 1 }, reviewer: { team: 1 } }, `P${++turn}`),
      ).whole(),
    by: 'the open work of the team, by whose load it chooses',
    much: (firm) => count(firm, 'openAssignments'),
  },
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1]!
/**
 * Milliseconds that some work takes in each firm: medians of interleaved rounds, so that a machine
 * which slows down slows all of them; as many rounds as a second holds.
 */
function costs(work: Work): number[] {
  const times: number[][] = firms.map(() => [])
  for (const firm of firms) work(firm)
  const began = performance.now()
  for (let n = 0; n < 5 || (n < 100 && performance.now() - began < 1000); n++)
    firms.forEach((firm, i) => {
      const start = performance.now()
      work(firm)
      times[i]!.push(performance.now() - start)
    })
  return times.map(median)
}

const SIZES = [1, 10, 100]
const firms = SIZES.map((size) => grow(size))
const counted = firms.map(
  ({ db }) => db.sqlite.prepare('select count(*) from tasks').pluck().get() as number,
)
console.log(`tasks: ${counted.map((n) => n.toLocaleString('en-GB')).join(', ')}`)
// An old start is not to be taken back, since somebody has worked in it.
for (const { engine, people, old } of firms) {
  const [task] = engine.journal.change({ kind: 'person', id: people[4]! }, () => [
    old.result,
  ]).result
  const viewer = { id: people[4]!, name: 'Person 4', access: 'member' as const, clientId: null }
  const found = outline(engine, viewer, query({ of: 'project', id: task! }))
  editTask(engine, viewer, found.groups[0]!.ids[0]!, { patch: { priority: 'high' }, seen: null })
}
let over = 0
function tell(name: string, work: Work, most: readonly number[], beside: string): void {
  const [one = 1, ten = 1, hundred = 1] = costs(work)
  // A call under a twentieth of a millisecond is all but the clock's own noise.
  const base = Math.max(one, 0.05)
  const ok = ten / base <= most[0]! && hundred / base <= most[1]!
  if (!ok) over += 1
  const ratios = `${(ten / base).toFixed(2)} at 10, ${(hundred / base).toFixed(2)} at 100`
  const times = [one, ten, hundred].map((ms) => ms.toFixed(2)).join(', ')
  console.log(`${ok ? 'ok  ' : 'OVER'} ${name}: ${ratios}${beside} — ${times} ms`)
}
for (const [name, work] of Object.entries(ASKED)) tell(name, work, [2, 2], '')
for (const [name, { work, by, much }] of Object.entries(GROWING)) {
  const amounts = firms.map((firm) => (much ? much(firm) : asked(firm, work)))
  const most = [1, 2].map((i) => 2 * Math.max(1, amounts[i]! / amounts[0]!))
  tell(name, work, most, ` (at most ${most.map((m) => m.toFixed(1)).join(' and ')}, with ${by})`)
}
// Written last, since it makes the firms larger.
for (const [name, work] of Object.entries(WRITTEN)) tell(name, work, [2, 2], '')
console.log(over ? `${over} over the limit` : 'all within the limits')
