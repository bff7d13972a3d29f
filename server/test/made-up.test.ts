import { createPinia } from 'pinia'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createSSRApp, defineComponent, h } from 'vue'
import { renderToString } from 'vue/server-renderer'
import { compile } from '#core/conditions/compile.ts'
import type { Test } from '#core/conditions/condition.ts'
import { register, unregister } from '#core/fields/catalogue.ts'
import { field } from '#core/fields/field.ts'
import { action } from '#contract/actions/action.ts'
import { actionKinds, addAction, type Action } from '#contract/actions/index.ts'
import { addTrigger } from '#contract/triggers/index.ts'
import { trigger } from '#contract/triggers/trigger.ts'
import type { Directory } from '#contract/desks.ts'
import type { TaskQuery } from '#contract/query.ts'
import { ruleBody, type RuleBody } from '#contract/rules.ts'
import { bulkBody, editsBody } from '#contract/tasks.ts'
import { guessed, meanings, readRows } from '#web/desks/work/bring-in.ts'
import { sayRule } from '#web/desks/clockwork/rule-words.ts'
import StepEdit from '#web/desks/clockwork/StepEdit.vue'
import { pasted } from '#web/desks/work/views/paste.ts'
import { askedIn, choicesFor, colourFor, editForGroup, sayField } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { readCell } from '#web/fields/read.ts'
import { differences } from '#web/fields/versions.ts'
import { deedsFor } from '#web/parts/deeds.ts'
import { toCsv } from '../areas/exports/csv.ts'
import { sheetData } from '../areas/exports/sheet.ts'
import { fieldsFor } from '../areas/fields/queries.ts'
import { listNotices } from '../areas/notices/service.ts'
import { addDoes } from '../areas/rules/actions/index.ts'
import { itsTask } from '../areas/rules/triggers/wake.ts'
import { addWakes } from '../areas/rules/triggers/index.ts'
import { listRuns } from '../areas/rules/log.ts'
import { makeRule, switchRule } from '../areas/rules/service.ts'
import { activity } from '../areas/tasks/activity.ts'
import { bulkEdit, editEach } from '../areas/tasks/bulk.ts'
import { factsOf } from '../areas/tasks/facts.ts'
import { keptIn } from '../areas/tasks/fields.ts'
import { nowFor } from '../areas/tasks/filter.ts'
import { outline } from '../areas/tasks/outline.ts'
import { editTask, makeTask, taskSheet } from '../areas/tasks/service.ts'
import { tasks } from '../database/tables/index.ts'
import { lab, type Lab } from './lab.ts'

// A field and an action that nobody wrote anything else for: what is described once is everywhere.

/** A field: its description, and the column that it is kept in. */
const PLACE = field('task', {
  ...{ name: 'place', label: 'Where', type: 'choice', plain: true, stored: 'role' },
  choices: [
    { value: 'desk', name: 'At the desk', colour: 'teal' },
    { value: 'road', name: 'On the road', colour: 'clay' },
  ],
})
/** An action: what is asked for and said of it, and what it does. */
const cheer = action<'cheer', { readonly how: string }>({
  kind: 'cheer',
  name: 'Cheer',
  args: { how: { type: 'text', label: 'How to cheer', most: 30 } },
  blank: { how: 'Well done with {task}' },
  words: ({ how }) => `cheer “${how}”`,
})

/** A trigger: what is asked for, and what wakes it. */
const filed = trigger<'filed', object>({
  kind: 'filed',
  name: 'a file is put on a task',
  ...{ args: {}, blank: {} },
  words: () => 'a file is put on a task',
})

beforeAll(() => {
  addTrigger(filed)
  addWakes('filed', {
    on: () => ['file.added'],
    by: (_, event) => event.kind === 'file.added' && event.name !== 'draft.txt',
    about: itsTask,
  })
  register(PLACE)
  keptIn('place', tasks.role)
  addAction(cheer)
  addDoes('cheer', ({ account, task, text }, step) => {
    const { how } = step as unknown as { how: string }
    account.did.push(`Cheered “${text(how)}”`)
    const about = { kind: 'task', id: task.id } as const
    for (const { id: to } of task.assignees)
      account.news.push({ to, kind: 'rule', about, text: text(how) })
  })
})
afterAll(() => unregister(PLACE))

const query = (part: Partial<TaskQuery>): TaskQuery => ({
  ...{ scope: { of: 'firm' }, filter: { match: 'all', of: [] }, sort: [], group: null },
  ...{ tree: false, sums: [], every: false, ...part },
})
function room() {
  const l = lab()
  const make = (title: string, place?: string) =>
    makeTask(l.engine, l.imogen, { title, ...(place && { values: { place } }) }).result.id
  return { l, ids: [make('A', 'road'), make('B'), make('C', 'desk')] as const }
}
const directory: Directory = {
  ...{ people: [], teams: [], clients: [], projects: [], templates: [], series: [], states: [] },
  ...{ tags: [], fields: [], clientStates: [] },
}
const known: Known = {
  ...{ directory, projects: [], phases: [], today: '2026-11-23', zone: 'Europe/London' },
  ...{ scope: { of: 'firm' }, member: true },
}
const titles = (l: Lab, part: Partial<TaskQuery>) =>
  outline(l.engine, l.imogen, query(part)).groups.map(({ name, ids }) => [
    name,
    ids.map((id) => taskSheet(l.engine, l.imogen, id).title).join(''),
  ])

describe('a made-up field', () => {
  it('is in lists: shown, coloured, filtered, ordered, grouped, dropped on', () => {
    const { l, ids } = room()
    const sheet = taskSheet(l.engine, l.imogen, ids[0])
    expect(sayField(known, 'place', sheet)).toBe('On the road')
    expect(colourFor(known, 'place', sheet)).toBe('clay')
    const found = { match: 'all', of: [{ field: 'place', op: 'not-in', value: ['road'] }] } as const
    expect(titles(l, { filter: found })).toEqual([['', 'BC']])
    expect(titles(l, { sort: [{ field: 'place', down: true }] })).toEqual([['', 'ACB']])
    expect(titles(l, { group: 'place' })).toEqual([
      ['At the desk', 'C'],
      ['On the road', 'A'],
      ['Not chosen', 'B'],
    ])
    expect(editForGroup(known, 'place', { key: 'desk', from: 'road' }, sheet)).toEqual({
      values: { place: 'desk' },
    })
  })
  it('is asked the same in memory and as SQL', () => {
    const { l, ids } = room()
    const now = nowFor(l.engine, null)
    const tests: Test[] = [
      { field: 'place', op: 'in', value: ['road', 'desk'] },
      { field: 'place', op: 'not-in', value: ['desk'] },
      { field: 'place', op: 'empty' },
    ]
    for (const test of tests) {
      const { holds } = compile(test, fieldsFor(l.engine.reader, l.imogen))
      const held = ids.filter((id) => holds(factsOf(l.engine, id)!, now))
      const filter = { match: 'all', of: [test] } as const
      const asked = outline(l.engine, l.imogen, query({ filter })).groups.flatMap((g) => g.ids)
      expect(asked).toEqual(held)
    }
  })
  it('leaves in exports, comes in by imports and what is pasted, and is set for many', () => {
    const { l, ids } = room()
    const csv = toCsv(sheetData(l.engine, l.imogen, query({}), ['place'])).toString('utf8')
    expect(csv.replace('\ufeff', '').trim().split('\r\n')).toEqual([
      ...['Title,Where', 'A,On the road', 'B,', 'C,At the desk'],
    ])
    const mapping = guessed(['Title', 'where'], meanings(known))
    expect(mapping).toEqual(['title', 'place'])
    const file = { headings: ['Title', 'where'], rows: [['D', 'on the road']], notes: [] }
    const { made, faults } = readRows(file, mapping, known)
    expect([made, faults]).toEqual([[{ title: 'D', values: { place: 'road' } }], []])
    const body = editsBody.validate({ edits: [], make: made })
    expect(body.error).toBeUndefined()
    editEach(l.engine, l.imogen, body.value!).whole()
    const rows = [taskSheet(l.engine, l.imogen, ids[1])]
    const paste = pasted('Desk?\tAt the desk', ['title', 'place'], rows, known, { of: 'firm' })
    expect(paste.edits[0]!.patch).toEqual({ title: 'Desk?', values: { place: 'desk' } })
    expect(() => readCell(known, 'place', 'at sea')).toThrow(/Where: “at sea” is not one of/)
    const many = bulkBody.validate({ ids, set: { values: { place: 'road' } } })
    expect(many.error).toBeUndefined()
    bulkEdit(l.engine, l.imogen, many.value!).whole()
    expect(titles(l, { group: 'place' })).toEqual([['On the road', 'ABCD']])
    expect(deedsFor(known, 1, null, 'where at the desk')[0]).toMatchObject({
      ...{ name: 'Where: At the desk', body: { set: { values: { place: 'desk' } } } },
    })
  })
  it('is told by the journal and the clash dialog, offered by forms, and waited for by rules', () => {
    const { l, ids } = room()
    const set = (place: string | null) =>
      editTask(l.engine, l.tobias, ids[0], { patch: { values: { place } }, seen: null })
    set('desk')
    set(null)
    expect(
      activity(l.engine, l.imogen, ids[0])
        .filter(({ who }) => who === 'Tobias')
        .map(({ text }) => text)
        .sort(),
    ).toEqual(['where At the desk → none', 'where On the road → At the desk'])
    expect(() => set('sea')).toThrow('“Where” takes one of its choices, not “sea”.')
    const theirs = taskSheet(l.engine, l.imogen, ids[2])
    expect(differences(known, { values: { place: 'road' } }, theirs)).toEqual([
      { label: 'Where', mine: 'On the road', theirs: 'At the desk' },
    ])
    expect(askedIn(known).map(({ name }) => name)).toContain('place')
    expect(choicesFor(known, 'place').map(({ name }) => name)).toEqual([
      ...['At the desk', 'On the road'],
    ])
  })
})

describe('a made-up action', () => {
  const definition = {
    trigger: { kind: 'changed', field: 'place', to: ['road'] },
    conditions: { match: 'all', of: [{ field: 'place', op: 'filled' }] },
    actions: [{ kind: 'cheer', ...cheer.blank }],
  }
  it('is checked, kept, run, told in the run log and to people', () => {
    const { l, ids } = room()
    const body = { name: 'Cheers', ownerId: l.imogen.id, definition }
    const wrong = { ...definition, actions: [{ kind: 'cheer', how: 'x'.repeat(31) }] }
    expect(ruleBody.validate({ ...body, definition: wrong }).error?.message).toMatch(/how length/)
    const checked = ruleBody.validate(body)
    expect(checked.error).toBeUndefined()
    const rule: RuleBody = checked.value!
    const { id } = makeRule(l.engine, l.imogen, rule).result
    switchRule(l.engine, l.imogen, id, { on: true })
    const patch = { assignees: [l.devika.id], values: { place: 'road' } }
    editTask(l.engine, l.tobias, ids[2], { patch, seen: null })
    l.runner.tick()
    expect(listRuns(l.engine, l.imogen, { ruleId: id }).map(({ summary }) => summary)).toEqual([
      'Cheered “Well done with C”',
    ])
    expect(listNotices(l.engine, l.devika).map(({ body }) => body)).toContain('Well done with C')
  })
  it('is set off by a made-up trigger, which is told in words', () => {
    const { l, ids } = room()
    const filing = { ...definition, trigger: { kind: 'filed' } }
    const { value } = ruleBody.validate({ name: 'Files', ownerId: 1, definition: filing })
    const { id } = makeRule(l.engine, l.imogen, value!).result
    switchRule(l.engine, l.imogen, id, { on: true })
    for (const name of ['draft.txt', 'final.txt'])
      l.engine.journal.change({ kind: 'person', id: l.tobias.id }, (write) =>
        write.insert('attachments', { taskId: ids[2], name, url: 'https://x.example', at: 0 }),
      )
    l.runner.tick()
    expect(listRuns(l.engine, l.imogen, { ruleId: id })).toHaveLength(1)
    expect(sayRule(known, value!.definition)).toBe(
      'When a file is put on a task, provided where is set: cheer “Well done with {task}”.',
    )
  })
  it('has a form, drawn from what it asks for', async () => {
    const action = { kind: 'cheer', how: 'Hurrah' } as unknown as Action
    const open = defineComponent({
      inheritAttrs: false,
      setup:
        (_, { slots }) =>
        () => [slots['activator']?.({ props: {} }), slots['default']?.()],
    })
    const app = createSSRApp(() =>
      h(StepEdit, {
        modelValue: action,
        kinds: actionKinds(),
        label: 'Action',
        known,
        about: 'task',
      }),
    )
    const field = (props: Record<string, unknown>) =>
      h('input', { 'aria-label': props['aria-label'], value: props['model-value'] })
    app.use(createPinia()).component('v-menu', open).component('v-text-field', field)
    const html = await renderToString(app)
    expect(html).toContain('aria-label="Action: Cheer"')
    expect(html).toMatch(/<input[^>]*aria-label="How to cheer"[^>]*value="Hurrah"/)
  })
})
