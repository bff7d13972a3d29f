import { describe, expect, it } from 'vitest'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { cloneProject } from '../projects/copy.ts'
import { makeProject } from '../projects/service.ts'
import { makeRule } from '../rules/service.ts'
import { makeField } from '../fields/service.ts'
import { sheetData } from '../exports/sheet.ts'
import { outline } from '../tasks/outline.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { activity } from '../tasks/activity.ts'
import { ANYTHING } from '../../http/routes/tasks.ts'
import { setAudience, shareClient, sharedSheet, shareProject, unshareProject } from './service.ts'
import {
  answerAsk,
  editTeam,
  joinTeam,
  leaveTeam,
  listTeams,
  makeTeam,
  removeTeam,
} from './teams.ts'

const project = (l: Lab, more: object = {}) =>
  makeProject(l.engine, l.imogen, { name: 'Books', clientId: null, ...more }).result
const left = (l: Lab, id: number) =>
  l.db.sqlite.prepare('update people set active = 0 where id = ?').run(id)

describe('teams', () => {
  it('are joined, asked to be let into, left; a closed one is not there for others', () => {
    const l = lab()
    const [open, ask, closed] = (['open', 'ask', 'closed'] as const).map(
      (kind) =>
        makeTeam(l.engine, l.imogen, { name: kind, kind, members: [l.devika.id] }).result.id,
    )
    const mine = (id: number) => listTeams(l.engine, l.tobias).find((team) => team.id === id)
    expect(joinTeam(l.engine, l.tobias, open!).result.mine).toBe(true)
    expect(joinTeam(l.engine, l.tobias, ask!).result).toMatchObject({ mine: false, asked: true })
    // Asked twice is asked once; nobody outside sees who asks.
    joinTeam(l.engine, l.tobias, ask!)
    expect(mine(ask!)!.asks).toEqual([])
    const seen = listTeams(l.engine, l.devika).find((team) => team.id === ask)!
    expect(seen.asks.map((person) => person.name)).toEqual(['Tobias'])
    const let1 = { personId: l.tobias.id, let: true }
    expect(() => answerAsk(l.engine, l.tobias, ask!, let1)).toThrow(/Only who is in a team/)
    expect(answerAsk(l.engine, l.devika, ask!, let1).result.members).toContain(l.tobias.id)
    expect(() => answerAsk(l.engine, l.devika, ask!, let1)).toThrow(/do not ask any more/)
    expect(mine(closed!)).toBeUndefined()
    expect(() => joinTeam(l.engine, l.tobias, closed!)).toThrow(/no such team/)
    leaveTeam(l.engine, l.devika, closed!)
    expect(listTeams(l.engine, l.devika).some((team) => team.id === closed)).toBe(false)
  })
  it('their people alone are changed, or their name alone; names are there once', () => {
    const l = lab()
    const { id } = makeTeam(l.engine, l.imogen, { name: 'Reception', kind: 'open' }).result
    const { change } = editTeam(l.engine, l.imogen, id, { members: [l.tobias.id] })
    expect(listTeams(l.engine, l.imogen).find((team) => team.id === id)!.members).toEqual([
      l.tobias.id,
    ])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(listTeams(l.engine, l.imogen).find((team) => team.id === id)!.members).toEqual([])
    expect(() => editTeam(l.engine, l.imogen, id, { name: 'ACCOUNTS' })).toThrow(
      /“Accounts” already/,
    )
    expect(editTeam(l.engine, l.imogen, id, { name: 'reception' }).result.name).toBe('reception')
  })
  it('take nobody who is a guest, has left or is not there', () => {
    const l = lab()
    const make = (id: number) =>
      makeTeam(l.engine, l.imogen, { name: `T${id}`, kind: 'open', members: [id] })
    expect(() => make(l.corrie.id)).toThrow(/Corrie is a guest/)
    expect(() => make(99_999)).toThrow(/no person 99999/)
    left(l, l.tobias.id)
    expect(() => make(l.tobias.id)).toThrow(/Tobias has left/)
  })
  it('go once nothing is for them and nothing gives them work', () => {
    const l = lab()
    const { id } = project(l, { audience: 'team', teamId: l.team })
    expect(() => removeTeam(l.engine, l.imogen, l.team)).toThrow(
      /1 project is for “Accounts” alone/,
    )
    setAudience(l.engine, l.imogen, id, { audience: 'firm' })
    const definition = LADDER({ team: l.team, boss: l.imogen.id })
    makeRule(l.engine, l.imogen, { name: 'Late', ownerId: l.imogen.id, definition })
    expect(() => removeTeam(l.engine, l.imogen, l.team)).toThrow(/rule “Late” gives work/)
    const { id: other } = makeTeam(l.engine, l.imogen, {
      ...{ name: 'Reception', kind: 'open', members: [l.tobias.id] },
    }).result
    removeTeam(l.engine, l.imogen, other)
    expect(listTeams(l.engine, l.imogen).map((team) => team.id)).toEqual([l.team])
  })
})

describe('who a project is for', () => {
  it('a team that is unknown, or of nobody, is none', () => {
    const l = lab()
    const { id } = project(l)
    const set = (teamId: number | null) =>
      setAudience(l.engine, l.imogen, id, { audience: 'team', teamId })
    expect(() => set(null)).toThrow(/Choose the team/)
    expect(() => set(99_999)).toThrow(/Choose the team/)
    const empty = makeTeam(l.engine, l.imogen, { name: 'Nobody', kind: 'open' }).result.id
    expect(() => set(empty)).toThrow(/Nobody is in that team/)
    expect(() => project(l, { audience: 'team', teamId: empty })).toThrow(/Nobody is in that team/)
    expect(set(l.team).result.team).toEqual({ id: l.team, name: 'Accounts' })
  })
  it('is its lead’s to say, and not a member’s; a copy is for the same', () => {
    const l = lab()
    const { id } = project(l, { leadId: l.tobias.id })
    expect(() => setAudience(l.engine, l.devika, id, { audience: 'named' })).toThrow(/You may not/)
    setAudience(l.engine, l.tobias, id, { audience: 'named' })
    shareProject(l.engine, l.tobias, id, { people: [l.corrie.id], may: 'view' })
    expect(() => sharedSheet(l.engine, l.devika, id)).toThrow(/not shared with you/)
    const copy = cloneProject(l.engine, l.tobias, id, {
      name: 'Again',
      take: [],
      anchor: null,
    }).whole()
    expect(sharedSheet(l.engine, l.imogen, copy.result.id)).toMatchObject({
      audience: 'named',
      shares: [{ person: { name: 'Corrie' }, may: 'view' }],
    })
  })
})

describe('what is shared by name', () => {
  it('is said once for each, changed in place, taken back, and undone', () => {
    const l = lab()
    const { id } = project(l)
    const share = (may: 'view' | 'edit') =>
      shareProject(l.engine, l.imogen, id, { people: [l.corrie.id], may })
    share('view')
    const { result, change } = share('edit')
    expect(result.shares.map((each) => each.may)).toEqual(['edit'])
    undoChange(l.engine, l.imogen, change!).whole()
    const own = sharedSheet(l.engine, l.imogen, id).shares[0]!.id
    expect(unshareProject(l.engine, l.imogen, id, own).result.shares).toEqual([])
    expect(() => unshareProject(l.engine, l.imogen, id, own)).toThrow(/not shared any more/)
  })
  it('guests get no structure; who left gets nothing; a phase is one of the project', () => {
    const l = lab()
    const { id } = project(l)
    const share = (people: number[], more: object = {}) =>
      shareProject(l.engine, l.imogen, id, { people, may: 'view', ...more })
    expect(() => share([l.corrie.id], { may: 'structure' })).toThrow(/Corrie is a guest/)
    expect(() => share([99_999])).toThrow(/no person 99999/)
    expect(() => share([l.corrie.id], { phaseId: 99_999 })).toThrow(/not part of the project/)
    left(l, l.devika.id)
    expect(() => share([l.devika.id])).toThrow(/Devika has left/)
    const structure = { people: [l.tobias.id], may: 'structure' as const }
    expect(() => shareClient(l.engine, l.imogen, l.client, structure)).toThrow(/to view/)
  })
})

describe('a field that only some may read', () => {
  it('is nowhere for others: not shown, asked, summed, set, taken out or told of', () => {
    const l = lab()
    const made = makeField(l.engine, l.imogen, {
      ...{ name: 'Fee', kind: 'money', options: { currency: 'GBP' }, readers: 'managers' },
      ...{ projectId: null, templateId: null, hidden: false },
    }).result[0]!
    const task = makeTask(l.engine, l.imogen, {
      ...{ title: 'Post', assignees: [l.tobias.id], fields: { [made.id]: 12_500 } },
    }).result
    const name = `field:${made.id}`
    const query = { ...ANYTHING, sums: [name] }
    const sees = (who: typeof l.tobias) => ({
      row: taskSheet(l.engine, who, task.id).fields[made.id],
      shown: taskSheet(l.engine, who, task.id).customFields.length,
      faults: outline(l.engine, who, query).faults.length,
      columns: sheetData(l.engine, who, ANYTHING, [name]).columns.length,
      told: activity(l.engine, who, task.id).some(({ text }) => text.includes('Fee')),
    })
    expect(sees(l.imogen)).toEqual({ row: 12_500, shown: 1, faults: 0, columns: 2, told: true })
    expect(sees(l.tobias)).toEqual({ row: undefined, shown: 0, faults: 1, columns: 1, told: false })
    const patch = { fields: { [made.id]: 1 } }
    expect(() => editTask(l.engine, l.tobias, task.id, { patch, seen: null })).toThrow(/not shown/)
  })
})
