<script setup lang="ts">
import type { DateWays } from '#contract/desks.ts'
import { put } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** How the firm picks dates and writes times of day. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const FIRST = [
  { value: 'MO', title: 'Monday' },
  { value: 'SU', title: 'Sunday' },
  { value: 'SA', title: 'Saturday' },
]
const CLOCKS = [
  { value: 24, title: '15:00' },
  { value: 12, title: '3:00 pm' },
]
const set = (part: Partial<DateWays>) =>
  attempt(async () => {
    const done = await put<DateWays>('/dates', { ...session.me!.firmDates, ...part })
    await session.refresh(false)
    messages.did('Saved.', done)
  })
</script>

<template>
  <div v-if="session.me" class="kept">
    <div class="field">
      <label for="dk-first">Weeks begin on</label>
      <v-select
        id="dk-first"
        :model-value="session.me.firmDates.first"
        :items="FIRST"
        :readonly="!may"
        @update:model-value="set({ first: $event })"
      />
    </div>
    <div class="field">
      <label for="dk-clock">Times of day are written</label>
      <v-select
        id="dk-clock"
        :model-value="session.me.firmDates.clock"
        :items="CLOCKS"
        :readonly="!may"
        @update:model-value="set({ clock: $event })"
      />
    </div>
  </div>
</template>

<style scoped>
.kept {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 320px));
  gap: 12px;
  margin-bottom: 20px;
}
</style>
