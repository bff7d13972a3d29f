<script setup lang="ts">
import { sayMinutes } from '#core/text/speak.ts'
import { readMinutes } from '#core/text/read.ts'
import type { PersonPage } from '#contract/people.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import type { Faults } from '#web/forms/useForm.ts'
import DateField from '#web/parts/DateField.vue'
import OneOf from '#web/parts/OneOf.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Enters time off: from a day to a day, whole ones, halves, or hours of each. */
const { person } = defineProps<{ person: PersonPage }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const messages = useMessages()
const TAKES = [
  { value: 'whole', name: 'Whole days' },
  { value: 'half', name: 'Half of each' },
  { value: 'hours', name: 'Hours of each' },
] as const
type Takes = (typeof TAKES)[number]['value']
const form = useDialogForm({
  value: {
    firstDay: session.today,
    lastDay: null as string | null,
    takes: 'whole' as Takes,
    hours: sayMinutes(120),
    reason: '',
  },
  check: ({ takes, hours }): Faults =>
    takes === 'hours' && !readMinutes(hours, true) ? { minutes: 'Hours, such as 1h 30m' } : {},
  async send({ firstDay, lastDay, takes, hours, reason }) {
    const minutes = takes === 'hours' ? readMinutes(hours, true) : null
    const body = { firstDay, lastDay: lastDay ?? firstDay, half: takes === 'half', minutes, reason }
    messages.did(
      `The time off of ${person.name} is entered.`,
      await post(`/people/${person.id}/time-off`, body),
    )
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`Time off of ${person.name}`"
    does="Add it"
    :form="form"
    :places="['minutes']"
    @close="emit('close')"
  >
    <div class="days">
      <div class="field">
        <label for="to-first">First day</label>
        <DateField id="to-first" v-model="draft.firstDay" :person="person.id" />
      </div>
      <div class="field">
        <label for="to-last">Last day, the same where it is left empty</label>
        <DateField id="to-last" v-model="draft.lastDay" :person="person.id" />
      </div>
    </div>
    <div class="field takes">
      <OneOf v-model="draft.takes" label="How much of each day" :options="TAKES" />
    </div>
    <LineField
      v-if="draft.takes === 'hours'"
      v-model="draft.hours"
      label="Hours of each day"
      :most="20"
      :fault="faultAt('minutes')"
    />
    <LineField v-model="draft.reason" label="Why, for managers alone" />
  </FormDialog>
</template>

<style scoped>
.days {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}
.takes {
  display: flex;
}
</style>
