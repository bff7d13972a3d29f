<script setup lang="ts">
import { WEEKDAYS } from '#core/calendar/calendar.ts'
import type { PersonPage, PersonSheet } from '#contract/people.ts'
import { patch } from '#web/api/client.ts'
import { readWeek, weekFaults, weekOf } from '#web/desks/door/begin.ts'
import { useForm } from '#web/forms/useForm.ts'
import WeekFields from '#web/forms/WeekFields.vue'
import { sayMinutes } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'

/** The working hours of somebody: the firm's, or their own. */
const props = defineProps<{ person: PersonPage; may: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const valueOf = ({ hours, usual }: Pick<PersonPage, 'hours' | 'usual'>) => ({
  own: hours !== null,
  hours: weekOf(hours ?? usual),
})
const form = useForm({
  key: () => `person.${props.person.id}.hours`,
  held: () => ({ value: valueOf(props.person), version: 0 }),
  check: ({ own, hours }) => (own ? weekFaults(hours) : {}),
  async send(written) {
    const hours = written.own ? readWeek(written.hours) : null
    const done = await patch<PersonSheet>(`/people/${props.person.id}`, { hours })
    messages.did(`The hours of ${done.name} are saved.`, done)
    emit('changed')
    return { value: written, version: 0 }
  },
})
/** “7h 30m on Mon, Tue; 4h on Fri”. */
function said({ hours, usual }: PersonPage): string {
  const of = hours ?? usual
  const days = new Map<number, string[]>()
  for (const [i, day] of WEEKDAYS.entries()) {
    const minutes = of[day]
    const name = new Intl.DateTimeFormat('en', { weekday: 'short', timeZone: 'UTC' }).format(
      Date.UTC(2024, 0, 1 + i),
    )
    if (minutes) days.set(minutes, [...(days.get(minutes) ?? []), name])
  }
  return [...days].map(([minutes, on]) => `${sayMinutes(minutes)} on ${on.join(', ')}`).join('; ')
}
</script>

<template>
  <form v-if="form.draft.value" @submit.prevent="form.save()">
    <h2 class="section">
      Hours
      <span>{{ said(person) }}{{ person.hours ? '' : ', as the firm' }}</span>
    </h2>
    <template v-if="may">
      <v-checkbox v-model="form.draft.value.own" label="Hours of their own" />
      <WeekFields
        v-if="form.draft.value.own"
        v-model="form.draft.value.hours"
        :fault-at="(day) => form.faultAt(`hours.${day}`) || ''"
      />
      <p v-if="form.fault.value || form.faults.value['hours']" class="wrong" role="alert">
        {{ form.fault.value || form.faults.value['hours'] }}
      </p>
      <v-btn type="submit" :disabled="!form.dirty.value || form.busy.value">Save the hours</v-btn>
    </template>
  </form>
</template>
