<script setup lang="ts">
import { computed } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { printAll } from '#web/state/printing.ts'
import { queryOf } from './definition.ts'
import type { Known } from '#web/fields/known.ts'

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
  <v-menu>
    <template #activator="{ props: menu }">
      <button v-bind="menu" class="btn">Take out</button>
    </template>
    <div class="menu">
      <a :href="address('xlsx')" download>As a workbook (XLSX)</a>
      <a :href="address('csv')" download>As CSV</a>
      <a :href="address('ics')" download>Dates as iCalendar</a>
      <button @click="printAll">Print</button>
    </div>
  </v-menu>
</template>

<style scoped>
a {
  display: block;
  padding: 5px 9px;
  border-radius: 3px;
}
a:hover,
a:focus-visible {
  background: var(--fern-wash);
}
</style>
