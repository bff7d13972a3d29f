import { describe, expect, it } from 'vitest'
import { Refusal } from '#core/refusal.ts'
import { LEVELS, type Level } from '#contract/words.ts'
import { createLive } from '../../http/live.ts'
import {
  made,
  type Firm,
  type Given,
  type ProjectMade,
  type Somebody,
  type TaskMade,
} from '../../test/chance-firm.ts'
import { ENGINE } from '../../test/lab.ts'
import { readFile } from '../attachments/service.ts'
import { everything } from '../exports/sheet.ts'
import { listChanges } from '../journal/changes.ts'
import { listNotices } from '../notices/service.ts'
import { notify } from '../notices/notify.ts'
import { closedProjects, listPhases, listProjects, projectSheet } from '../projects/sheet.ts'
import { addPost } from '../projects/posts.ts'
import { editProject, savePhases } from '../projects/service.ts'
import { listRuns } from '../rules/log.ts'
import { recordRun } from '../../engine/runs.ts'
import { find } from '../search/service.ts'
import { activity } from '../tasks/activity.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { addComment } from '../tasks/comments.ts'
import { outline } from '../tasks/outline.ts'
import { taskPage } from '../tasks/page.ts'
import { editTask, taskSheet } from '../tasks/service.ts'
import { todaySheet } from '../today/service.ts'
import { ANYTHING } from '../../http/routes/tasks.ts'
import { whatSees, whoSeesProject, whoSeesTask } from './who.ts'

/**
 * Firms made by chance, and every road through them held against docs/access.md as it is read here:
 * plainly, one person and one thing at a time, with no help from the code that is tested.
 */

// ———— docs/access.md, read plainly ————

const rank = (level: Level | null) => LEVELS.indexOf(level as Level)
const isGuest = ({ viewer: { access } }: Somebody) => access === 'contractor' || access === 'client'
const runs = ({ viewer: { access } }: Somebody) => access === 'owner' || access === 'manager'
const isMember = ({ viewer: { access } }: Somebody) => access === 'member'
type Rule = readonly [holds: boolean, may: Level]
/** “Where several hold, the highest counts”; “no guest ever has more than edit”. */
function highest(who: Somebody, rules: readonly Rule[]): Level | null {
  const held = rules.filter(([holds]) => holds && !who.left).map(([, may]) => may)
  const most = held.reduce<Level | null>((a, b) => (rank(a) >= rank(b) ? a : b), null)
  return isGuest(who) && most === 'structure' ? 'edit' : most
}
const shares = (firm: Firm, who: Somebody, is: (given: Given) => boolean): Rule[] =>
  firm.given.filter((g) => g.person === who.viewer.id && is(g)).map(({ may }) => [true, may])

/** “What a project shows to whom”, rule by rule, with the level of each. */
const inProject = (firm: Firm, who: Somebody, p: ProjectMade): Level | null =>
  highest(who, [
    [runs(who), 'structure'],
    [p.lead === who.viewer.id, 'structure'],
    [isMember(who) && p.audience === 'firm', 'edit'],
    [isMember(who) && p.audience === 'team' && who.teams.includes(p.team!), 'edit'],
    ...shares(firm, who, (g) => g.project === p.id && g.phase === undefined),
    ...shares(firm, who, (g) => ofClient(g, p.client) && p.audience !== 'named'),
  ])
const ofClient = ({ client }: Given, id: number | null) => client !== undefined && client === id
/** “What shows a task to whom”. */
function onTask(firm: Firm, who: Somebody, t: TaskMade): Level | null {
  const place = t.project && inProject(firm, who, t.project)
  return highest(who, [
    [place !== null, place ?? 'view'],
    [!t.project && runs(who), 'structure'],
    [!t.project && isMember(who), 'edit'],
    ...shares(firm, who, (g) => !t.project && ofClient(g, t.client)),
    ...shares(firm, who, (g) => g.phase !== undefined && g.phase === t.phase),
    [t.on.includes(who.viewer.id), isGuest(who) ? 'work' : 'edit'],
  ])
}
const partly = (firm: Firm, who: Somebody, p: ProjectMade): boolean =>
  inProject(firm, who, p) !== null ||
  (!who.left &&
    (firm.given.some((g) => g.person === who.viewer.id && g.project === p.id) ||
      firm.tasks.some((t) => t.project === p && t.on.includes(who.viewer.id))))

// ———— the roads ————

const codeOf = (work: () => unknown): string => {
  try {
    work()
    return 'seen'
  } catch (error) {
    if (error instanceof Refusal) return error.code
    throw error
  }
}
const sorted = (ids: Iterable<number>) => [...ids].map(Number).sort((a, b) => a - b)
const reaches = (has: Level | null, needs: Level) => has !== null && rank(has) >= rank(needs)

const SEEDS = [11, 12, 13, 14, 15, 16]
describe.each(SEEDS)('a firm made by chance, of seed %i', (seed) => {
  const firm = made(seed)
  const { l } = firm
  const { engine } = l
  const here = firm.people.filter((each) => !each.left)
  const tasksOf = (who: Somebody) => firm.tasks.filter((t) => onTask(firm, who, t) !== null)
  const ids = (list: readonly { id: number }[]) => sorted(list.map((each) => each.id))

  it('lists, pages, groups and files hold just the tasks that are seen', () => {
    for (const who of here) {
      const seen = ids(tasksOf(who))
      const { viewer } = who
      const groups = outline(engine, viewer, { ...ANYTHING, group: 'project', sums: ['estimate'] })
      expect(sorted(groups.groups.flatMap((g) => g.ids)), viewer.name).toEqual(seen)
      const page = taskPage(engine, viewer, ANYTHING, { limit: 100, cursor: null })
      expect(ids(page.tasks)).toEqual(seen)
      for (const row of page.tasks) {
        const t = firm.tasks.find(({ id }) => id === row.id)!
        expect(row.mayWork, `${viewer.name} ${t.word}`).toBe(reaches(onTask(firm, who, t), 'work'))
      }
      expect(sorted(everything(engine, viewer, ANYTHING).flatMap((g) => g.ids))).toEqual(seen)
      const mine = firm.tasks.filter((t) => t.on.includes(viewer.id))
      const today = Object.values(todaySheet(engine, viewer).groups).flat()
      expect(ids(today)).toEqual(ids(mine))
      for (const t of firm.tasks) {
        const shown = codeOf(() => taskSheet(engine, viewer, t.id))
        expect(shown, `${viewer.name} ${t.word}`).toBe(seen.includes(t.id) ? 'seen' : 'not-found')
        const told = codeOf(() => activity(engine, viewer, t.id))
        expect(told).toBe(shown)
      }
    }
  })

  it('find knows what is seen by its words, what is said on it, and its name', () => {
    for (const who of here) {
      for (const t of firm.tasks) {
        const known = onTask(firm, who, t) !== null
        for (const words of [t.word, `${t.word}said`]) {
          const hits = find(engine, who.viewer, words).filter((hit) => hit.kind === 'task')
          expect(hits.length > 0, `${who.viewer.name} ${words}`).toBe(known)
        }
      }
      for (const p of firm.projects) {
        const hits = find(engine, who.viewer, p.name.split(' ')[1]!)
        expect(hits.some((hit) => hit.kind === 'project')).toBe(partly(firm, who, p))
      }
    }
  })

  it('files open for who sees their task', async () => {
    for (const who of here)
      for (const t of firm.tasks) {
        const answer = await readFile(engine, who.viewer, t.file).catch((error: Refusal) => error)
        const { message } = answer as Refusal
        expect(/contents of/.test(message)).toBe(onTask(firm, who, t) !== null)
      }
  })

  it('projects are listed, opened and counted as far as they are seen', () => {
    for (const who of here) {
      const { viewer } = who
      const seen = firm.projects.filter((p) => partly(firm, who, p))
      const rows = listProjects(engine, viewer)
      expect(ids(rows), viewer.name).toEqual(ids(seen))
      expect(closedProjects(engine, viewer, { part: 'finished' }).projects).toEqual([])
      expect(new Set(listPhases(engine, viewer).map((p) => Number(p.projectId)))).toEqual(
        new Set(seen.map((p) => p.id)),
      )
      for (const p of firm.projects) {
        const own = tasksOf(who).filter((t) => t.project === p)
        const row = rows.find((each) => each.id === p.id)
        if (row) expect(row.open, `${viewer.name} ${p.name}`).toBe(own.length)
        const shown = codeOf(() => projectSheet(engine, viewer, p.id))
        expect(shown).toBe(seen.includes(p) ? 'seen' : 'not-found')
        if (shown !== 'seen') continue
        const sheet = projectSheet(engine, viewer, p.id)
        const level = inProject(firm, who, p)
        expect(sheet.posts.length).toBe(level === null ? 0 : 1)
        expect(sheet.phases.map((phase) => phase.open)).toEqual(
          p.phases.map((id) => own.filter((t) => t.phase === id).length),
        )
        expect(sheet.files.map((file) => Number(file.id)).sort()).toEqual(
          own.map((t) => t.file).sort(),
        )
        expect(sheet.may).toEqual({
          structure: reaches(level, 'structure'),
          edit: reaches(level, 'edit'),
          comment: reaches(level, 'comment'),
        })
      }
    }
  })

  it('the journal, the run log and notices tell of nothing else', () => {
    engine.journal.change(ENGINE, (write) => {
      for (const t of firm.tasks)
        recordRun(write, {
          ...{ key: `try ${t.id}`, by: { rule: 1 }, version: 1, outcome: 'done' },
          ...{ about: { kind: 'task', id: t.id }, summary: t.word, reasons: [] },
        } as never)
      for (const { viewer } of firm.people)
        for (const t of firm.tasks)
          notify(engine, write, [
            { to: viewer.id, kind: 'rule', text: t.word, about: { kind: 'task', id: t.id } },
          ])
    })
    for (const who of here) {
      const seen = tasksOf(who)
      const words = new Set(seen.map((t) => t.word))
      const told = new Set(listNotices(engine, who.viewer).map((notice) => notice.body))
      expect([...told].flatMap((body) => body.split('; ')).sort()).toEqual([...words].sort())
      if (isGuest(who)) continue
      expect(new Set(listRuns(engine, who.viewer, {}).map((run) => run.summary))).toEqual(words)
      let said = ''
      for (let before: number | null | undefined = undefined; before !== null;) {
        const page = listChanges(engine, who.viewer, before === undefined ? {} : { before })
        said += page.changes.flatMap((change) => change.lines).join('\n')
        before = page.next
      }
      for (const t of firm.tasks)
        expect(said.includes(t.word), `${who.viewer.name} ${t.word}`).toBe(words.has(t.word))
    }
  })

  it('live updates go to who sees what changed, and name no project that is out of sight', () => {
    const told = new Map<number, string>()
    const live = createLive(engine)
    const streams = here.map(({ viewer }) => {
      const stream = live.open(() => viewer)
      stream.read()
      return { viewer, stream }
    })
    try {
      for (const t of firm.tasks) {
        engine.journal.change(ENGINE, (write) => write.update('tasks', t.id, { estimate: t.id }))
        for (const { viewer, stream } of streams)
          told.set(viewer.id, String((stream.read() as Buffer | null) ?? ''))
        for (const who of here) {
          const text = told.get(who.viewer.id)!
          const hears = onTask(firm, who, t) !== null
          expect(text !== '', `${who.viewer.name} ${t.word}`).toBe(hears)
          if (!hears) continue
          const { projects, tasks } = JSON.parse(text.split('data: ')[1]!) as {
            projects: number[]
            tasks: number[]
          }
          expect(tasks).toEqual([t.id])
          expect(projects).toEqual(t.project ? [t.project.id] : [])
        }
      }
    } finally {
      live.closeAll()
    }
  })

  it('“who sees this” names just those who do, with the most they may do', () => {
    const [, boss] = firm.people
    for (const t of firm.tasks) {
      const { people, others } = whoSeesTask(engine, boss!.viewer, t.id)
      const may = new Map(people.map((each) => [Number(each.id), each.may]))
      for (const who of firm.people)
        expect(may.get(who.viewer.id) ?? null, `${who.viewer.name} ${t.word}`).toBe(
          onTask(firm, who, t),
        )
      expect(people.every(({ why }) => why.length > 0)).toBe(true)
      expect(people.length + others).toBe(4 + here.length)
    }
    for (const p of firm.projects) {
      const { people } = whoSeesProject(engine, boss!.viewer, p.id)
      const may = new Map(people.map((each) => [Number(each.id), each.may]))
      for (const who of firm.people)
        expect(may.get(who.viewer.id) ?? null).toBe(inProject(firm, who, p))
    }
    for (const who of firm.people) {
      const { projects, unseen } = whatSees(engine, boss!.viewer, who.viewer.id)
      expect(ids(projects)).toEqual(ids(firm.projects.filter((p) => partly(firm, who, p))))
      expect(projects.length + unseen).toBe(firm.projects.length)
      for (const { id, may } of projects)
        expect(may).toBe(
          inProject(
            firm,
            who,
            firm.projects.find((p) => p.id === id)!,
          ),
        )
    }
  })

  it('who is in a closed team is not told to who does not know of it', () => {
    const seen = here
      .filter(isMember)
      .flatMap((who) =>
        firm.projects
          .filter((p) => inProject(firm, who, p) !== null)
          .map((p) => whoSeesProject(engine, who.viewer, p.id)),
      )
    expect(seen.length).toBeGreaterThan(0)
    for (const { people, team } of seen.filter((each) => each.team === null))
      expect(
        people.flatMap((each) => each.why.map(({ why }) => why)),
        String(team),
      ).not.toContain('team')
  })

  it('each may do what their level says, and no more', () => {
    for (const who of here) {
      const { viewer } = who
      for (const t of firm.tasks) {
        const level = onTask(firm, who, t)
        const does = (work: () => unknown) => {
          // Taken back with everything it wrote, so that the firm stays as it is.
          const undo = new Error('enough')
          try {
            engine.journal.change(ENGINE, () => {
              const code = codeOf(work)
              throw Object.assign(undo, { code })
            })
          } catch (error) {
            if (error !== undo) throw error
          }
          return (undo as unknown as { code: string }).code
        }
        const expects = (needs: Level) =>
          level === null ? 'not-found' : reaches(level, needs) ? 'seen' : 'forbidden'
        const say = `${viewer.name} (${viewer.access}) ${t.word} ${level}`
        const edit = (patch: object) =>
          does(() => editTask(engine, viewer, t.id, { patch, seen: null }))
        expect(edit({ title: 'Anew' }), say).toBe(expects('edit'))
        expect(edit({ state: 'under-way' }), say).toBe(expects('work'))
        expect(
          does(() => addComment(engine, viewer, t.id, '<p>So</p>')),
          say,
        ).toBe(expects('comment'))
        if (!isGuest(who)) {
          const bulk = { ids: [t.id], set: { priority: 'high' as const } }
          expect(
            does(() => bulkEdit(engine, viewer, bulk).whole()),
            say,
          ).toBe(expects('edit'))
        }
      }
      for (const p of firm.projects) {
        const level = inProject(firm, who, p)
        const sees = partly(firm, who, p)
        const expects = (needs: Level) =>
          !sees ? 'not-found' : reaches(level, needs) ? 'seen' : 'forbidden'
        const body = { body: '<p>So</p>', health: null }
        const phases = { phases: p.phases.map((id, i) => ({ id, name: `P${i}` })) }
        const undo = new Error('enough')
        const codes: string[] = []
        try {
          engine.journal.change(ENGINE, () => {
            codes.push(
              codeOf(() => addPost(engine, viewer, p.id, body)),
              codeOf(() => savePhases(engine, viewer, p.id, phases)),
            )
            if (!isGuest(who))
              codes.push(
                codeOf(() =>
                  editProject(engine, viewer, p.id, {
                    ...{ patch: { description: '<p>So</p>' }, seen: null },
                  }),
                ),
              )
            throw undo
          })
        } catch (error) {
          if (error !== undo) throw error
        }
        expect(codes, `${viewer.name} (${viewer.access}) ${p.name} ${level}`).toEqual([
          expects('comment'),
          expects('structure'),
          ...(isGuest(who) ? [] : [expects('edit')]),
        ])
      }
    }
  })
})
