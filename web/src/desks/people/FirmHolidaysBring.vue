<script setup lang="ts">
import { computed, ref } from 'vue'
import type { HolidaysFound } from '#contract/firm.ts'
import { call, post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import FileDrop from '#web/parts/FileDrop.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Holidays out of a calendar file: looked at first, then entered as one change. */
const emit = defineEmits<{ close: []; done: [dates: string[]] }>()
const session = useSession()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const found = ref<HolidaysFound | null>(null)
const chosen = ref<string[]>([])
const read = ([file]: File[]) =>
  attempt(async () => {
    if (!file) return
    const path = '/firm/holidays/read'
    found.value = await call<HolidaysFound>('POST', path, { bytes: file, asks: true })
    // What stands on a day already gives way only where somebody says so.
    chosen.value = found.value.days.flatMap(({ date, there }) => (there ? [] : [date]))
  })
const days = computed(() => found.value?.days.filter(({ date }) => chosen.value.includes(date)))
const form = useDialogForm({
  value: {},
  async send() {
    const entered = (days.value ?? []).map(({ date, name, half }) => ({ date, name, half }))
    const done = await post('/firm/holidays', { days: entered })
    messages.did(`${plural(entered.length, 'holiday')} entered.`, done)
  },
  done: () => emit('done', chosen.value.slice().sort()),
})
</script>

<template>
  <FormDialog
    title="Holidays out of a calendar file"
    :does="`Enter ${plural(chosen.length, 'holiday')}`"
    :form="form"
    :ready="chosen.length > 0"
    @close="emit('close')"
  >
    <FileDrop
      title="A calendar file (.ics)"
      label="Calendar file"
      accept=".ics,text/calendar"
      :busy="busy"
      @files="read"
    />
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <template v-if="found">
      <p v-for="note in found.notes" :key="note" class="ochre">{{ note }}</p>
      <p v-if="!found.days.length" class="quiet">It holds no day that could be a holiday.</p>
      <ul class="found">
        <li v-for="d in found.days" :key="d.date">
          <v-checkbox
            v-model="chosen"
            :value="d.date"
            :label="`${sayDate(d.date, session.today)}: ${d.name}`"
            density="compact"
            hide-details
          />
          <span v-if="d.there" class="quiet small">in place of one there</span>
        </li>
      </ul>
    </template>
  </FormDialog>
</template>

<style scoped>
.found {
  list-style: none;
  margin: 10px 0;
  padding: 0;
  max-height: 40vh;
  overflow: auto;
}
.found li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  border-top: 1px solid var(--rule);
}
</style>
