import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Condition, Group, Test } from '#core/conditions/condition.ts'
import { compile, explain } from '#core/conditions/compile.ts'
import { FIELD_TYPES, type Op } from '#core/fields/types.ts'
import { fieldsOf, walkedFields } from '#core/fields/catalogue.ts'
import type { Field } from '#core/fields/field.ts'
import { customField, enteredField } from '#contract/fields.ts'
import { PERIODS } from '#core/query/when.ts'
import type { NewTask } from '#contract/tasks.ts'
import { ENGINE, lab, london, type Lab } from '../../test/lab.ts'
import { editClient } from '../clients/service.ts'
import { listClients } from '../clients/states.ts'
import { fieldRow, fieldsFor, taskFields } from '../fields/queries.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { stateRow } from '../states/queries.ts'
import { addComment } from './comments.ts'
import { factsOf } from './facts.ts'
import { nowFor } from './filter.ts'
import { outline } from './outline.ts'
import { editTask, makeTask } from './service.ts'

// Two ways to the same answer: a condition decided in memory, item by item, and asked as SQL.

const CUSTOM = ['text', 'number', 'money', 'date', 'choice', 'person', 'yes-no', 'link'] as const
const DAYS = ['2026-11-02', '2026-11-20', '2026-11-21', '2026-11-23', '2026-11-24', '2026-12-28']
const WORDS = [
  '',
  'Takings',
  'tak',
  '100%',
  'a_b',
  'Ärger',
  'O’Hara',
  "'; drop table tasks --",
  '\\',
]

const day = fc.constantFrom(...DAYS)
const maybe = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined, freq: 3 })

/** A firm with tasks of every shape: with and without each thing that fields read. */
function firm() {
  const l = lab()
  const custom = CUSTOM.map((kind) => {
    const options =
      kind === 'choice'
        ? { choices: ['a', 'b'].map((key) => ({ key, name: key.toUpperCase(), colour: 'fern' })) }
        : kind === 'money'
          ? { currency: 'GBP' }
          : {}
    const of = { name: kind, kind, options, projectId: null, templateId: null, hidden: false }
    return makeField(l.engine, l.imogen, of).result.at(-1)!
  })
  const tags = ['records', 'odd'].map(
    (name) => makeTag(l.engine, l.tobias, { name, colour: 'teal' }).result.id,
  )
  const projects = [l.client, null].map(
    (clientId) =>
      makeProject(l.engine, l.imogen, {
        ...{ name: clientId ? 'Books' : 'Of nobody', clientId, phases: ['Gather'] },
        ...(clientId && { leadId: l.tobias.id, anchor: '2026-11-23' }),
      }).result,
  )
  const own = (['project', 'client'] as const).flatMap((of) =>
    (['number', 'choice', 'yes-no'] as const).map((kind) => {
      const options =
        kind === 'choice' ? { choices: [{ key: 'a', name: 'A', colour: 'fern' }] } : {}
      const place = { projectId: null, templateId: null, hidden: false }
      const body = { of, name: `${of} ${kind}`, kind, options, ...place }
      return makeField(l.engine, l.imogen, body).result.at(-1)!
    }),
  )
  const valued = (of: 'project' | 'client') => {
    const [number, choice] = own.filter((field) => field.of === of)
    return { fields: { [number!.id]: 2, [choice!.id]: 'a' } }
  }
  editProject(l.engine, l.imogen, projects[0]!.id, {
    patch: { ...valued('project'), category: 'Takings', state: 'running' },
    seen: null,
  })
  const stateId = listClients(l.engine, l.imogen).states[0]!.id
  editClient(l.engine, l.imogen, l.client, {
    ...{ ...valued('client'), leadId: l.devika.id, stateId, tags: [tags[0]!] },
  })
  return { l, custom, tags, projects, own }
}
type Firm = ReturnType<typeof firm>

const someTask = ({ l, custom, tags, projects }: Firm): fc.Arbitrary<NewTask> => {
  const people = [l.tobias.id, l.devika.id, l.corrie.id]
  const value = (kind: (typeof CUSTOM)[number]) =>
    ({
      text: fc.constantFrom(...WORDS.slice(1)),
      link: fc.constant('https://example.org/Takings'),
      number: fc.constantFrom(-1, 0, 2.5, 7),
      money: fc.constantFrom(0, 1250),
      date: day,
      choice: fc.constantFrom('a', 'b'),
      person: fc.constantFrom(...people),
      'yes-no': fc.boolean(),
    })[kind]
  const fields = fc.record(
    Object.fromEntries(custom.map(({ id, kind }) => [id, maybe<unknown>(value(kind))])),
  )
  return fc
    .record({
      title: fc.constantFrom(...WORDS.slice(1)),
      description: maybe(fc.constantFrom('<p>Takings &amp; cards</p>', '<p>Ärger</p>')),
      state: maybe(fc.constantFrom('not-started', 'waiting', 'in-review', 'done', 'dropped')),
      priority: maybe(fc.constantFrom('low', 'normal', 'high', 'urgent')),
      due: maybe(day),
      dueTime: maybe(fc.constantFrom('07:00', '09:30')),
      start: fc.constant(undefined),
      estimate: maybe(fc.constantFrom(0, 30, 90)),
      assignees: maybe(fc.subarray(people)),
      followers: maybe(fc.subarray(people)),
      tags: maybe(fc.subarray(tags)),
      checklist: maybe(fc.constantFrom<string[]>(['One'], ['One', 'Two', 'Three'])),
      place: fc.constantFrom(0, 1, 2),
      clientId: maybe(fc.constant(l.client)),
      archived: maybe(fc.constant(true)),
      fields,
    })
    .map(({ place, dueTime, fields, ...task }) => {
      const project = projects[place]
      const held = Object.entries(fields).filter(([, each]) => each !== undefined)
      const whole = {
        ...task,
        ...(task.due && dueTime && { dueTime }),
        ...(project && { projectId: project.id, phaseId: project.phases[0]!.id }),
        fields: Object.fromEntries(held),
      }
      return Object.fromEntries(
        Object.entries(whole).filter(([, each]) => each !== undefined),
      ) as unknown as NewTask
    })
}

const when = fc.oneof(
  day,
  fc.record({ days: fc.integer({ min: -5, max: 5 }), working: fc.boolean() }),
  fc.record({ period: fc.constantFrom(...PERIODS), shift: fc.integer({ min: -1, max: 1 }) }),
)
/** What a field's tests compare with: values that occur, and some that do not. */
function operand({ type, choices }: Field<'task'>): fc.Arbitrary<Test['value']> {
  const numbers = fc.array(fc.constantFrom<number | string>(1, 2, 3, 99, 'me'), { maxLength: 3 })
  switch (FIELD_TYPES[type].operand) {
    case 'list':
      return choices
        ? fc.array(fc.constantFrom(...choices.map((c) => c.value), 'gone'), { maxLength: 3 })
        : numbers
    case 'text':
      return fc.constantFrom(...WORDS)
    case 'amount':
      return fc.constantFrom(-1, 0, 1, 2, 2.5, 3, 33, 90, 1250)
    case 'truth':
      return fc.boolean()
    case 'day':
      return when
  }
}
const test = (field: Field<'task'>): fc.Arbitrary<Test> =>
  fc
    .constantFrom(...FIELD_TYPES[field.type].ops.map(({ op }): Op => op))
    .chain((op): fc.Arbitrary<Test> =>
      op === 'filled' || op === 'empty'
        ? fc.constant({ field: field.name, op })
        : operand(field).map((value) => ({ field: field.name, op, value: value! })),
    )
const condition = (fields: readonly Field<'task'>[]): fc.Arbitrary<Condition> =>
  fc.letrec<{ group: Group; each: Condition }>((tie) => ({
    each: fc.oneof(
      { weight: 5, arbitrary: fc.constantFrom(...fields).chain(test) },
      { weight: 1, arbitrary: tie('group') },
    ),
    group: fc.record({
      match: fc.constantFrom('all', 'any', 'none'),
      of: fc.array(tie('each'), { maxLength: 3 }),
    }),
  })).each

/** Every field that SQL can ask, but for words, which an index finds. */
const askable = ({ l, custom, own }: Firm): Field<'task'>[] => [
  ...fieldsOf('task').filter((field) => field.only !== 'lists'),
  ...walkedFields(),
  ...custom.map(({ id }) => customField(fieldRow(l.engine.reader, id)!)),
  ...own.flatMap(({ of, id }) =>
    (of === 'project' ? ['project'] : ['client', 'project.client']).map((way) =>
      taskFields(l.engine.reader)(`${way}.field:${id}`)!,
    ),
  ),
  ...[1, 3].map((id) => enteredField(stateRow(l.engine.reader, id)!)),
]

/** The tasks that a condition finds as SQL; archived ones are asked for too. */
const bySql = (l: Lab, of: Condition): number[] =>
  outline(l.engine, l.imogen, {
    ...{ scope: { of: 'firm' }, sort: [], group: null, tree: false, sums: [], every: false },
    filter: {
      match: 'all',
      of: [
        of,
        {
          match: 'any',
          of: [
            { field: 'archived', op: 'is', value: true },
            { field: 'archived', op: 'is', value: false },
          ],
        },
      ],
    },
  })
    .groups.flatMap((group) => group.ids)
    .sort((a, b) => a - b)

function filled(f: Firm, tasks: readonly NewTask[]): number[] {
  const { l } = f
  const ids = tasks.map((task) => makeTask(l.engine, l.imogen, task).result.id)
  const [first, second] = ids
  if (first && second) {
    addComment(l.engine, l.devika, first, '<p>Takings?</p>')
    editTask(l.engine, l.imogen, second, { patch: { parentId: first, reviewed: true }, seen: null })
    editTask(l.engine, l.imogen, first, { patch: { due: '2026-12-28' }, seen: null })
    l.engine.journal.change(ENGINE, (write) => {
      for (const { id } of l.rows<{ id: number }>('select id from checklistItems where id % 2'))
        write.update('checklistItems', id, { done: true })
    })
  }
  l.clock.set(london('2026-11-23T09:00'))
  return ids
}

describe('conditions', () => {
  it('find the same tasks as SQL and in memory, on every field that SQL can ask', () => {
    const base = firm()
    const fields = askable(base)
    const seen = new Set<string>()
    fc.assert(
      fc.property(
        fc.array(someTask(base), { minLength: 6, maxLength: 6 }),
        fc.array(condition(fields), { minLength: 40, maxLength: 40 }),
        (tasks, conditions) => {
          const f = firm()
          const ids = filled(f, tasks)
          const { l } = f
          const now = nowFor(l.engine, l.imogen.id)
          const lookup = fieldsFor(l.engine.reader, l.imogen)
          const facts = ids.map((id) => factsOf(l.engine, id)!)
          for (const each of conditions) {
            for (const { name } of fields)
              if (JSON.stringify(each).includes(`"${name}"`)) seen.add(name)
            const { holds, faults } = compile(each, lookup)
            expect(faults).toEqual([])
            const found = facts.filter((task) => holds(task, now)).map(({ id }) => id)
            expect(bySql(l, each), JSON.stringify(each)).toEqual(found)
            const { verdict } = explain(each, lookup)
            expect(facts.filter((task) => verdict(task, now).holds).map(({ id }) => id)).toEqual(
              found,
            )
          }
        },
      ),
      { numRuns: 25 },
    )
    // Every field was asked about.
    expect(fields.map(({ name }) => name).filter((name) => !seen.has(name))).toEqual([])
  })

  // What is empty: the definition of conditions (no value: the opposites hold, comparisons do not).
  it.each<[string, Condition, boolean]>([
    ['late: no', { field: 'late', op: 'is', value: false }, true],
    [
      'none of: due before today',
      { match: 'none', of: [{ field: 'due', op: 'before', value: { days: 0 } }] },
      true,
    ],
    ['priority is not urgent', { field: 'priority', op: 'not-in', value: ['urgent'] }, true],
    ['estimate is less than an hour', { field: 'estimate', op: 'below', value: 60 }, false],
    ['estimate is at least nothing', { field: 'estimate', op: 'at-least', value: 0 }, false],
    ['estimate is not an hour', { field: 'estimate', op: 'is-not', value: 60 }, true],
    ['client’s tier is not gold', { field: 'client.tier', op: 'not-in', value: ['gold'] }, true],
    ['on it is not Tobias', { field: 'assignee', op: 'not-in', value: [2] }, true],
    ['a list that names nothing yet', { field: 'assignee', op: 'in', value: [] }, true],
  ])('%s, of a task that has nothing', (_, of, held) => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'Bare' }).result
    expect(bySql(l, of)).toEqual(held ? [id] : [])
    const { holds } = compile(of, fieldsFor(l.engine.reader, l.imogen))
    expect(holds(factsOf(l.engine, id)!, nowFor(l.engine, null))).toBe(held)
  })

  it('what is gone is said where it stands, and the rest holds; guests are told of no tier', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'Urgent', priority: 'urgent' }).result
    makeTask(l.engine, l.imogen, { title: 'Not' })
    const of: Group = {
      match: 'all',
      of: [
        { field: 'field:99', op: 'has', value: 'x' },
        { match: 'any', of: [{ field: 'priority', op: 'in', value: ['urgent'] }] },
        { field: 'due', op: 'before', value: 'soon' },
        { field: 'due', op: 'before', value: 7 },
        { field: 'estimate', op: 'has', value: 'x' },
        { field: 'client.name.tier', op: 'is', value: 'x' },
      ],
    }
    const { holds, faults } = compile(of, fieldsFor(l.engine.reader, l.imogen))
    expect(faults.map(({ place }) => place)).toEqual(['0', '2', '3', '4', '5'])
    expect(faults[2]!.detail).toBe('“Due” needs a date.')
    expect(faults[3]!.detail).toBe('“Estimate” cannot be asked like that.')
    expect(bySql(l, of)).toEqual([id])
    expect(holds(factsOf(l.engine, id)!, nowFor(l.engine, null))).toBe(true)
    const theirs = fieldsFor(l.engine.reader, l.corrie)
    for (const path of ['client.tier', 'project.client.tier', 'project.health', 'follower'])
      expect(theirs(path), path).toBeUndefined()
    expect(theirs('client.name')).toBeDefined()
  })
})
