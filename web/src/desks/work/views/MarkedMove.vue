<script setup lang="ts">
import { computed } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import { put } from '#web/api/client.ts'
import { takesDrops } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { boardField } from './definition.ts'
import { useRegroup } from './useRegroup.ts'

/** Where the task that is marked can be moved to without carrying it: in its order, and among groups. */
const props = defineProps<{ id: number; def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{ moved: [] }>()
const tasks = useTasks()
const messages = useMessages()
const { attempt } = useAttempt()
const by = computed(() => (props.def.kind === 'board' ? boardField(props.def) : props.def.group))
const regroup = useRegroup(
  () => props.known,
  () => by.value ?? '',
)
const own = computed(() => props.outline.groups.find(({ ids }) => ids.includes(props.id)))
const place = (after: number | null) => () =>
  attempt(async () => {
    messages.did('The order is changed.', await put(`/tasks/${props.id}/order`, { after }))
    emit('moved')
  })
/** In a project ordered by hand: past the one above or below, to the top, to the end. */
const places = computed((): MenuLine[] => {
  const { scope, sort } = props.def
  if (scope.of !== 'project' || sort.length || !own.value) return []
  const { ids } = own.value
  const at = ids.indexOf(props.id)
  const up = { name: 'Up by one', run: place(ids[at - 2] ?? null) }
  const top = { name: 'To the top', run: place(null) }
  const down = { name: 'Down by one', run: place(ids[at + 1] ?? null) }
  const end = { name: 'To the end', run: place(ids.at(-1) ?? null) }
  return [...(at > 0 ? [up, top] : []), ...(at < ids.length - 1 ? [down, end] : [])]
})
const to = (group: OutlineGroup) => () =>
  attempt(async () => {
    const task = tasks.rows.get(props.id)
    if (task && own.value && (await regroup(task, own.value, group))) emit('moved')
  })
const groups = computed((): MenuLine[] =>
  by.value && takesDrops(by.value)
    ? props.outline.groups
        .filter((group) => group !== own.value)
        .map((group) => ({ name: `To ${group.name}`, run: to(group) }))
    : [],
)
const lines = computed(() => [...places.value, ...groups.value])
</script>

<template>
  <LineMenu v-if="lines.length" label="Move what is marked" :lines="lines">
    <template #default="{ props: opens }"><v-btn v-bind="opens">Move to…</v-btn></template>
  </LineMenu>
</template>
