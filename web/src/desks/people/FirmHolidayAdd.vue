<script setup lang="ts">
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import DateField from '#web/parts/DateField.vue'
import OneOf from '#web/parts/OneOf.vue'
import { sayDate } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Enters a holiday of the firm: a whole day, or half of one. */
const emit = defineEmits<{ close: []; done: [dates: string[]] }>()
const session = useSession()
const messages = useMessages()
const TAKES = [
  { value: 'whole', name: 'The whole day' },
  { value: 'half', name: 'Half of it' },
] as const
let entered = ''
const form = useDialogForm({
  value: {
    date: null as string | null,
    name: '',
    takes: 'whole' as (typeof TAKES)[number]['value'],
  },
  check: ({ date, name }) => ({
    ...(!date && { date: 'Choose a day.' }),
    ...(!name.trim() && { name: 'Say what it is, such as “Stocktaking”.' }),
  }),
  async send({ date, name, takes }) {
    const day = { date, name, half: takes === 'half' }
    messages.did(
      `${name}, ${sayDate(date!, session.today)}, is a holiday.`,
      await post('/firm/holidays', { days: [day] }),
    )
    entered = date!
  },
  done: () => emit('done', [entered]),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="A holiday of the firm"
    does="Add it"
    :form="form"
    :places="['date', 'name']"
    @close="emit('close')"
  >
    <div class="field">
      <label for="fh-day">Day</label>
      <DateField id="fh-day" v-model="draft.date" />
      <p v-if="faultAt('date')" class="wrong small" role="alert">{{ faultAt('date') }}</p>
    </div>
    <LineField v-model="draft.name" label="What it is" :most="80" :fault="faultAt('name')" />
    <div class="field">
      <OneOf v-model="draft.takes" label="How much of the day" :options="TAKES" />
    </div>
  </FormDialog>
</template>
