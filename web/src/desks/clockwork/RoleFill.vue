<script setup lang="ts">
import { computed } from 'vue'
import type { Filling } from '#contract/clockwork.ts'
import { useSession } from '#web/state/session.ts'

/** Who fills a role: nobody yet, a person, or a team's least loaded. */
const value = defineModel<Filling | undefined>({ required: true })
defineProps<{ id: string }>()
const session = useSession()
const coded = computed({
  get: () =>
    !value.value ? '' : 'person' in value.value ? `p${value.value.person}` : `t${value.value.team}`,
  set: (code) =>
    (value.value =
      code === ''
        ? undefined
        : code.startsWith('p')
          ? { person: Number(code.slice(1)) }
          : { team: Number(code.slice(1)) }),
})
</script>

<template>
  <v-autocomplete
    :id="id"
    v-model="coded"
    :items="[
      { value: '', title: 'nobody yet' },
      { type: 'subheader', title: 'People' },
      ...session.active.map((p) => ({ value: `p${p.id}`, title: p.name })),
      { type: 'subheader', title: 'Teams' },
      ...session.directory.teams.map((t) => ({
        value: `t${t.id}`,
        title: `least loaded in ${t.name}`,
      })),
    ]"
  />
</template>
