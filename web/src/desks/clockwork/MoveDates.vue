<script setup lang="ts">
import type { DateOf, Decided } from '#contract/series.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import DateField from '#web/parts/DateField.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Asks where dates of series are to be moved. */
const { dates } = defineProps<{ dates: readonly (DateOf & { readonly date: string })[] }>()
const emit = defineEmits<{ close: []; moved: [] }>()
const session = useSession()
const messages = useMessages()
const [first, ...more] = dates
const name = session.directory.series.find(({ id }) => id === first?.series)?.name ?? 'the series'
const title =
  first && !more.length
    ? `Move ${name}, ${sayDate(first.date, session.today)}`
    : `Move ${plural(dates.length, 'date')}`
const form = useDialogForm({
  value: { to: (first?.date.slice(0, 10) ?? null) as string | null },
  check: ({ to }): Record<string, string> => (to ? {} : { to: 'Choose a day.' }),
  async send({ to }) {
    const chosen = dates.map(({ series, scheduled }) => ({ series, scheduled }))
    const body = { deed: 'move', to, dates: chosen }
    const decided = await post<Decided>('/series/decide', body)
    messages.did([`Moved to ${sayDate(to!, session.today)}.`, ...decided.left].join(' '), decided)
  },
  done: () => emit('moved'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="title"
    does="Move it"
    :form="form"
    :places="['to']"
    @close="emit('close')"
  >
    <p class="quiet">Later dates stay where they are.</p>
    <div class="field">
      <label for="md-to">To</label>
      <DateField id="md-to" v-model="draft.to" />
      <p v-if="faultAt('to')" class="wrong small" role="alert">{{ faultAt('to') }}</p>
    </div>
  </FormDialog>
</template>
