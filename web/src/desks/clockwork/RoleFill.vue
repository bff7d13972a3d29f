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
  <select :id="id" v-model="coded" class="inp">
    <option value="">nobody yet</option>
    <optgroup label="People">
      <option v-for="p in session.active" :key="p.id" :value="`p${p.id}`">{{ p.name }}</option>
    </optgroup>
    <optgroup label="Teams">
      <option v-for="t in session.directory.teams" :key="t.id" :value="`t${t.id}`">
        least loaded in {{ t.name }}
      </option>
    </optgroup>
  </select>
</template>
