<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { DecideBody, Round, RoundCell, RoundDate } from '#contract/series.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useRoving } from '#web/parts/useRoving.ts'
import { useSession } from '#web/state/session.ts'
import RoundCellDates from './RoundCellDates.vue'
import { keyOf } from './round.ts'
import { sayStood } from './went.ts'

/** Clients by what repeats for them: each date opens what can be done about it. */
const marked = defineModel<ReadonlySet<string>>({ required: true })
const { round, may } = defineProps<{
  round: Round
  may: boolean
  /** What alone is shown in full; the rest is faint. */
  lit: string | null
  /** Dates are within a month, so that their day says enough. */
  brief: boolean
}>()
const emit = defineEmits<{
  decide: [deed: DecideBody['deed'], dates: readonly RoundDate[]]
  move: [dates: RoundDate[]]
}>()
const session = useSession()
const day = (date: string) => sayDate(date, session.today)
const cellsOf = (cells: readonly RoundCell[]) => new Map(cells.map((cell) => [cell.column, cell]))
const rows = computed(() =>
  round.rows.map(({ client, cells }) => ({ client, cells: cellsOf(cells) })),
)
function mark(dates: readonly RoundDate[]): void {
  const keys = dates.map(keyOf)
  const on = keys.some((key) => !marked.value.has(key))
  const next = new Set(marked.value)
  for (const key of keys)
    if (on) next.add(key)
    else next.delete(key)
  marked.value = next
}
const OPEN = ['expected', 'held']
const DUE = ['expected', 'held', 'missed', 'skipped', 'taken-back']
/** What a manager may do about a date that stands so. */
const deedsFor = (d: RoundDate): (MenuLine | false)[] => [
  DUE.includes(d.stand) && { name: 'Make it now', run: () => emit('decide', 'make', [d]) },
  OPEN.includes(d.stand) && { name: 'Leave it out', run: () => emit('decide', 'skip', [d]) },
  d.stand === 'expected' && { name: 'Move it', run: () => emit('move', [d]) },
  d.byHand && { name: 'Back to its own date', run: () => emit('decide', 'back', [d]) },
  { name: marked.value.has(keyOf(d)) ? 'Unmark it' : 'Mark it', run: () => mark([d]) },
]
const linesFor = (d: RoundDate): MenuLine[] =>
  [
    d.project && { name: 'Open the project', to: `/work/${d.project.id}` },
    d.task && { name: 'Open the task', to: `/today?task=${d.task.id}` },
    { name: 'See the series', to: `/clockwork/series/${d.series}` },
    ...(may ? deedsFor(d) : []),
  ].filter((line) => !!line)
const linesOf = (dates: readonly RoundDate[]) => {
  const due = dates.filter(({ stand }) => OPEN.includes(stand))
  return [
    due.length && {
      name: `Make ${plural(due.length, 'date')} now`,
      run: () => emit('decide', 'make', due),
    },
    due.length && {
      name: `Leave ${plural(due.length, 'date')} out`,
      run: () => emit('decide', 'skip', due),
    },
    dates.length && { name: 'Mark all of it', run: () => mark(dates) },
  ].map((line) => line || null)
}
const inColumn = (key: string) => rows.value.flatMap(({ cells }) => cells.get(key)?.dates ?? [])

/** One menu for all dates: of the one that was pressed. */
const pressed = ref<{ date: RoundDate; at: HTMLElement } | null>(null)
const menu = useTemplateRef<{ $el: HTMLElement }>('menu')
async function press(date: RoundDate, event: MouseEvent): Promise<void> {
  if (event.ctrlKey || event.metaKey || event.shiftKey) return mark([date])
  pressed.value = { date, at: event.currentTarget as HTMLElement }
  await nextTick()
  menu.value?.$el.querySelector<HTMLElement>('.v-list-item')?.focus()
}
const pick = ({ run }: MenuLine) => {
  void run?.()
  pressed.value = null
}
const grid = useTemplateRef<HTMLElement>('grid')
useRoving(grid, 'tbody tr')
</script>

<template>
  <div ref="grid" class="grid" tabindex="-1">
    <v-table>
      <thead>
        <tr>
          <th scope="col">Client</th>
          <th v-for="c in round.columns" :key="c.key" scope="col">
            <span class="head">
              {{ c.name }}
              <LineMenu
                v-if="may && inColumn(c.key).length"
                :label="`More for ${c.name}`"
                :lines="linesOf(inColumn(c.key))"
              />
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.client?.id ?? 0">
          <th scope="row">
            <v-btn v-if="row.client" variant="plain" :to="`/clients/${row.client.id}`">
              {{ row.client.name }}
            </v-btn>
            <span v-else class="quiet">For nobody</span>
          </th>
          <td v-for="c in round.columns" :key="c.key">
            <RoundCellDates
              v-if="row.cells.get(c.key)"
              :cell="row.cells.get(c.key)!"
              :about="`${row.client?.name ?? 'For nobody'}, ${c.name}`"
              :marked="marked"
              :lit="lit"
              :brief="brief"
              @press="press"
            />
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
  <v-menu
    :model-value="pressed !== null"
    :target="pressed?.at"
    @update:model-value="pressed = null"
  >
    <v-list
      v-if="pressed"
      ref="menu"
      role="menu"
      :aria-label="`More for ${day(pressed.date.date)}`"
    >
      <li class="told small quiet" role="presentation">
        {{ sayStood(pressed.date, session.today)
        }}{{ pressed.date.why && ` (${pressed.date.why})` }}
      </li>
      <v-list-item
        v-for="line in linesFor(pressed.date)"
        :key="line.name"
        role="menuitem"
        :to="line.to"
        :title="line.name"
        @click="pick(line)"
      />
    </v-list>
  </v-menu>
</template>

<style scoped>
.grid {
  overflow: auto;
  max-height: calc(100vh - 250px);
  border: 1px solid var(--rule);
  background: var(--sheet);
}
.grid th,
.grid td {
  text-align: left;
  vertical-align: top;
  padding: 6px 10px;
  border-bottom: 1px solid var(--rule);
}
.grid thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--sheet);
  vertical-align: middle;
  white-space: nowrap;
}
.grid tbody th {
  position: sticky;
  left: 0;
  z-index: 1;
  min-width: 130px;
  background: var(--sheet);
  font-weight: 550;
}
.grid thead th:first-child {
  left: 0;
  z-index: 3;
}
.head {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.told {
  list-style: none;
  padding: 4px 16px 6px;
}
</style>
