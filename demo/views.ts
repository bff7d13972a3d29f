import type { Test } from '#core/conditions/condition.ts'
import type { ViewDefinition } from '#contract/query.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { Own } from './furnish.ts'
import type { Scene } from './scene.ts'

/** Views that people keep. */

const view = (part: Partial<ViewDefinition>, ...of: Test[]): ViewDefinition => ({
  kind: 'list',
  scope: { of: 'firm' },
  filter: { match: 'all', of: [{ field: 'open', op: 'is', value: true }, ...of] },
  sort: [],
  group: 'due',
  columns: ['client', 'assignee', 'due', 'estimate', 'tag'].map((field) => ({
    field,
    width: field === 'tag' ? 150 : 110,
  })),
  colour: null,
  tree: true,
  step: 'month',
  ...part,
})

interface Kept {
  readonly name: string
  readonly shared: boolean
  readonly pinned: boolean
  readonly definition: ViewDefinition
}

/** By how far records are there. */
function records({ fields }: Own): ViewDefinition {
  const by = `field:${fields.records}`
  return view(
    {
      group: by,
      colour: by,
      columns: [
        { field: 'client', width: 110 },
        { field: 'assignee', width: 120 },
        { field: 'due', width: 110 },
        { field: `field:${fields.reference}`, width: 110 },
        { field: `field:${fields.amount}`, width: 100 },
      ],
    },
    { field: by, op: 'filled' },
  )
}

const kept = (own: Own): readonly Kept[] => [
  { name: 'Records we wait for', shared: true, pinned: true, definition: records(own) },
  {
    name: 'Slipped, by person',
    shared: true,
    pinned: true,
    definition: view(
      { group: 'assignee', colour: 'priority' },
      { field: 'late', op: 'is', value: true },
    ),
  },
  {
    name: 'The next five weeks',
    shared: false,
    pinned: true,
    definition: view(
      { kind: 'timeline', group: 'assignee', colour: 'client', step: 'week' },
      { field: 'due', op: 'before', value: { days: 25, working: true } },
    ),
  },
  {
    name: 'Waiting longer than a week',
    shared: true,
    pinned: false,
    definition: view(
      { group: 'client' },
      { field: 'kind', op: 'in', value: ['waiting'] },
      { field: 'entered', op: 'before', value: { days: -5, working: true } },
    ),
  },
]

export function keepViews({ who }: Scene, own: Own, write: Writer): void {
  for (const { name, shared, pinned, definition } of kept(own)) {
    const ownerId = who('Imogen')
    const viewId = write.insert('views', { name, ownerId, shared, definition })
    if (pinned) write.insert('viewPins', { personId: ownerId, viewId })
  }
}
