<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { SharedSheet } from '#contract/access.ts'
import type { Audience } from '#contract/words.ts'
import { put } from '#web/api/client.ts'
import OneOf from '#web/parts/OneOf.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { AUDIENCE_LIST } from './words.ts'

/** Who a project is for: chosen at once, but for a team, which is asked for first. */
const props = defineProps<{ project: number; sheet: SharedSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { wrong, attempt } = useAttempt('here')
const audience = ref<Audience>('firm')
watch(
  () => props.sheet,
  (sheet) => (audience.value = sheet.audience),
  { immediate: true },
)
const teams = computed(() =>
  session.directory.teams.map(({ id, name }) => ({ value: id, title: name })),
)
const SAID: Readonly<Record<Audience, string>> = {
  firm: 'Everybody inside sees it now.',
  team: 'Only its team sees it now, and those it is shared with.',
  named: 'Only those named see it now.',
}
const save = (to: Audience, teamId: number | null) =>
  attempt(async () => {
    const body = { audience: to, teamId }
    messages.did(SAID[to], await put(`/projects/${props.project}/audience`, body))
    emit('changed')
  })
async function choose(to: Audience): Promise<void> {
  audience.value = to
  if (to !== 'team') await save(to, null)
}
const HINTS: Readonly<Record<Audience, string>> = {
  firm: 'Members see it and change its work.',
  team: 'Who is in the team sees it and changes its work; other members do not know of it.',
  named: 'Nobody but its lead, managers and those it is shared with below.',
}
</script>

<template>
  <div class="for">
    <OneOf
      label="Who it is for"
      :model-value="audience"
      :options="AUDIENCE_LIST"
      @update:model-value="choose"
    />
    <v-select
      v-if="audience === 'team'"
      class="team"
      aria-label="The team it is for"
      placeholder="Which team?"
      persistent-placeholder
      :model-value="sheet.team?.id ?? null"
      :items="teams"
      @update:model-value="save('team', $event)"
    />
    <p class="small quiet">{{ HINTS[audience] }}</p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.for {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  align-items: center;
}
.team {
  flex: 0 1 200px;
}
p {
  flex-basis: 100%;
  margin: 0;
}
</style>
