<script setup lang="ts">
import { computed } from 'vue'
import type { Me, Ways } from '#contract/desks.ts'
import { patch } from '#web/api/client.ts'
import { ZONES } from '#web/desks/door/begin.ts'
import { useForm } from '#web/forms/useForm.ts'
import TimeField from '#web/parts/TimeField.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** How I like dates, moments and colours; as the firm, or the device, has them where I do not say. */
const session = useSession()
const messages = useMessages()
const form = useForm<Ways>({
  key: () => 'me.ways',
  held: () => session.me && { value: session.me.ways, version: 0 },
  async send(ways) {
    const done = await patch<Me>('/me', { ways })
    await session.refresh(false)
    messages.did('That is how things are written for you now.', done)
    return { value: done.ways, version: 0 }
  },
})
function setQuiet(quiet: Ways['quiet']): void {
  if (form.draft.value) form.draft.value = { ...form.draft.value, quiet }
}
function quiet(edit: { from?: string; to?: string }): void {
  const now = form.draft.value?.quiet
  if (now) setQuiet({ ...now, ...edit })
}
const AS_FIRM = { value: null, title: 'as the firm' }
const zones = computed(() => [
  AS_FIRM,
  ...ZONES.map(({ code, name }) => ({ value: code, title: name })),
])
const FIRST = [
  AS_FIRM,
  { value: 'MO', title: 'Monday' },
  { value: 'SU', title: 'Sunday' },
  { value: 'SA', title: 'Saturday' },
]
const CLOCKS = [AS_FIRM, { value: 24, title: '15:00' }, { value: 12, title: '3:00 pm' }]
const THEMES = [
  { value: null, title: 'as this device' },
  { value: 'light', title: 'light' },
  { value: 'dark', title: 'dark' },
]
</script>

<template>
  <form v-if="form.draft.value" @submit.prevent="form.save()">
    <h2 class="section">How things are written</h2>
    <div class="two">
      <div class="field">
        <label for="mw-zone">My time zone</label>
        <v-autocomplete
          id="mw-zone"
          v-model="form.draft.value.zone"
          :items="zones"
          :error-messages="form.faultAt('ways.zone')"
        />
      </div>
      <div class="field">
        <label for="mw-clock">Times of day are written</label>
        <v-select id="mw-clock" v-model="form.draft.value.clock" :items="CLOCKS" />
      </div>
      <div class="field">
        <label for="mw-first">Weeks begin on</label>
        <v-select id="mw-first" v-model="form.draft.value.first" :items="FIRST" />
      </div>
      <div class="field">
        <label for="mw-theme">Colours</label>
        <v-select id="mw-theme" v-model="form.draft.value.theme" :items="THEMES" />
      </div>
    </div>
    <v-checkbox
      :model-value="form.draft.value.quiet !== null"
      label="Remind me of nothing in my quiet hours"
      @update:model-value="setQuiet($event ? { from: '19:00', to: '08:00' } : null)"
    />
    <div v-if="form.draft.value.quiet" class="two">
      <div class="field">
        <label for="mw-from">Quiet from</label>
        <TimeField
          id="mw-from"
          :model-value="form.draft.value.quiet.from"
          needed
          @update:model-value="$event && quiet({ from: $event })"
        />
      </div>
      <div class="field">
        <label for="mw-to">until</label>
        <TimeField
          id="mw-to"
          :model-value="form.draft.value.quiet.to"
          needed
          @update:model-value="$event && quiet({ to: $event })"
        />
      </div>
    </div>
    <p class="small quiet">
      What happened when is told in my zone; what is due, in the firm’s, as everybody’s.
    </p>
    <p v-if="form.fault.value" class="wrong" role="alert">{{ form.fault.value }}</p>
    <v-btn type="submit" :disabled="!form.dirty.value || form.busy.value">Save it</v-btn>
  </form>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 0 12px;
}
</style>
