<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { About } from '#contract/actions/action.ts'
import type { TaskRow, TaskSheet } from '#contract/tasks.ts'
import { useResource } from '#web/state/resource.ts'
import { useFinding } from '#web/parts/find/useFinding.ts'
import type { Known } from '#web/fields/known.ts'
import { SOONEST } from './sample.ts'

/** One task, project or client; tasks are found as their title, or number, is typed. */
const item = defineModel<number | null>({ required: true })
const props = defineProps<{ about: About; known: Known; label: string }>()
const typed = ref('')
const chosen = ref<{ value: number; title: string } | null>(null)
const { found, asking } = useFinding(typed, { shown: () => () => {}, first: () => {} })
const titled = (id: number, title: string, client: string | null | undefined) => ({
  value: id,
  title: client ? `${title} · ${client}` : title,
})
/** What was chosen elsewhere is named as well. */
const { data: given } = useResource<TaskSheet>(() =>
  props.about === 'task' && item.value !== null && !chosen.value ? `/tasks/${item.value}` : null,
)
watch(given, (task) => {
  if (task?.id === item.value && task)
    chosen.value = titled(task.id, task.title, task.client?.short)
})
/** Before anything is typed. */
const { data: first } = useResource<{ tasks: readonly TaskRow[] }>(() =>
  props.about === 'task' ? SOONEST : null,
)
const soonest = computed(() =>
  (first.value?.tasks ?? []).map(({ id, title, client }) => titled(id, title, client?.short)),
)
const sought = computed(() =>
  found.value.flatMap((one) =>
    one.kind === 'task' ? [titled(one.task.id, one.task.title, one.task.client)] : [],
  ),
)
/** What was chosen stays among them. */
const tasks = computed(() => {
  const all = typed.value.trim() ? sought.value : soonest.value
  const kept = chosen.value
  return kept && !all.some(({ value }) => value === kept.value) ? [kept, ...all] : all
})
const items = computed(() => {
  if (props.about === 'task') return tasks.value
  const list = props.about === 'project' ? props.known.projects : props.known.directory.clients
  return list.map(({ id, name }) => ({ value: id, title: name }))
})
function choose(value: number | null): void {
  chosen.value = items.value.find((one) => one.value === value) ?? null
  item.value = value
}
</script>

<template>
  <v-autocomplete
    v-model:search="typed"
    :model-value="item"
    :items="items"
    :loading="asking"
    :no-filter="about === 'task'"
    :aria-label="label"
    :placeholder="about === 'task' ? 'words of its title, or its number' : `choose a ${about}`"
    hide-no-data
    clearable
    @update:model-value="choose($event ?? null)"
  />
</template>
