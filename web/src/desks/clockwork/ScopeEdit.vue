<script setup lang="ts">
import { computed } from 'vue'
import type { RuleScope } from '#contract/rules.ts'
import type { Known } from '#web/fields/known.ts'
import TokenPick from '#web/parts/TokenPick.vue'

/** Where a rule acts: in the whole firm, for a client, in projects of a template, in one project. */
const scope = defineModel<RuleScope | undefined>({ required: true })
const props = defineProps<{ known: Known; may: boolean }>()
const KINDS = [
  { value: 'firm', name: 'in the whole firm' },
  { value: 'client', name: 'for one client' },
  { value: 'template', name: 'in projects of a template' },
  { value: 'project', name: 'in one project' },
] as const
type Of = (typeof KINDS)[number]['value']
const places = (of: Of) => {
  const { directory, projects } = props.known
  if (of === 'client') return directory.clients
  return of === 'template' ? directory.templates : of === 'project' ? projects : []
}
const of = computed<Of>(() => scope.value?.of ?? 'firm')
const options = computed(() => places(of.value).map(({ id, name }) => ({ value: id, name })))
/** What is there to choose from only. */
const kinds = computed(() =>
  KINDS.filter(({ value }) => value === 'firm' || value === of.value || places(value).length),
)
function turn(to: Of): void {
  const [first] = places(to)
  scope.value = to === 'firm' || !first ? { of: 'firm' } : { of: to, id: first.id }
}
</script>

<template>
  <span>
    <TokenPick
      :model-value="of"
      :options="kinds"
      label="Where it acts"
      :disabled="!may"
      @update:model-value="turn($event)"
    />
    <TokenPick
      v-if="scope && scope.of !== 'firm'"
      :model-value="scope.id"
      :options="options"
      label="Which"
      tone="value"
      :disabled="!may"
      @update:model-value="scope = { of: of as 'client', id: $event }"
    />
  </span>
</template>
