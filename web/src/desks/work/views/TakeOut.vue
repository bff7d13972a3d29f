<script setup lang="ts">
import { computed } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { printAll } from '#web/state/printing.ts'
import { queryOf } from './definition.ts'
import type { Known } from '#web/fields/known.ts'
import LineMenu from '#web/parts/LineMenu.vue'

/** Takes a view out as a file, or onto paper. */
const props = defineProps<{
  def: ViewDefinition
  known: Known
  range: { first: string; last: string } | undefined
}>()
const name = computed(() => {
  const { scope } = props.def
  if (scope.of === 'firm') return 'Work'
  const list = {
    client: props.known.directory.clients,
    project: props.known.directory.projects,
    person: props.known.directory.people,
  }[scope.of]
  return list.find((x) => x.id === scope.id)?.name ?? 'Work'
})
const columns = computed(() => [
  ...new Set(['id', 'state', 'priority', ...props.def.columns.map((c) => c.field)]),
])
function address(format: string): string {
  const asked = new URLSearchParams({
    ...{ format, name: name.value, columns: columns.value.join(',') },
    q: JSON.stringify(queryOf(props.def, [], props.range)),
  })
  return `/api/v1/tasks/export?${asked}`
}
</script>

<template>
  <LineMenu
    label="Take out"
    :lines="[
      { name: 'As a workbook (XLSX)', file: address('xlsx') },
      { name: 'As CSV', file: address('csv') },
      { name: 'Dates as iCalendar', file: address('ics') },
      { name: 'Print', run: printAll },
    ]"
  >
    <template #default="{ props: menu }"><v-btn v-bind="menu">Take out</v-btn></template>
  </LineMenu>
</template>
