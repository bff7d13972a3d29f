<script setup lang="ts">
import { computed } from 'vue'
import type { Choice } from '#core/fields/types.ts'
import LineMenu from '#web/parts/LineMenu.vue'

/** Some of several choices, as a word that opens into them; what is gone is said so. */
const chosen = defineModel<readonly (string | number)[]>({ required: true })
const props = defineProps<{ choices: readonly Choice[]; label: string; none: string }>()
const said = computed(
  () =>
    chosen.value
      .map((value) => props.choices.find((c) => c.value === value)?.name ?? 'one that is gone')
      .join(' or ') || props.none,
)
const has = (value: string | number) => chosen.value.includes(value)
const toggle = (value: string | number) =>
  (chosen.value = has(value)
    ? chosen.value.filter((each) => each !== value)
    : [...chosen.value, value])
</script>

<template>
  <LineMenu
    :label="label"
    several
    :lines="choices.map((c) => ({ name: c.name, on: has(c.value), run: () => toggle(c.value) }))"
  >
    <template #default="{ props: menu }">
      <v-btn v-bind="menu" variant="plain" class="tok value" :aria-label="`${label}: ${said}`">
        {{ said }}
      </v-btn>
    </template>
  </LineMenu>
</template>
