<script setup lang="ts">
import type { FirmPatch, FirmSheet } from '#contract/firm.ts'
import { PROJECT_STATE_NAMES } from '#contract/words.ts'
import { patch } from '#web/api/client.ts'
import { CURRENCIES, readWeek, weekFaults, weekOf, ZONES } from '#web/desks/door/begin.ts'
import ChoiceField from '#web/forms/ChoiceField.vue'
import LineField from '#web/forms/LineField.vue'
import { useForm } from '#web/forms/useForm.ts'
import WeekFields from '#web/forms/WeekFields.vue'
import { useMessages } from '#web/state/messages.ts'

/** What the firm is called, its clock, its money, its hours. */
const props = defineProps<{ firm: FirmSheet }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const valueOf = ({ name, zone, currency, hours, projectNames }: FirmSheet) => ({
  ...{ name, zone, currency, projectNames },
  hours: weekOf(hours),
})
const form = useForm({
  key: () => 'firm',
  held: () => ({ value: valueOf(props.firm), version: 0 }),
  check: ({ hours }) => weekFaults(hours),
  async send({ hours, ...rest }) {
    const body: FirmPatch = { ...rest, hours: readWeek(hours) }
    const done = await patch<FirmSheet>('/firm', body)
    messages.did('The firm is saved; what is still to come moves with it.', done)
    emit('changed')
    return { value: valueOf(done), version: 0 }
  },
})
</script>

<template>
  <form v-if="form.draft.value" @submit.prevent="form.save()">
    <h2 class="section">What it is</h2>
    <LineField
      v-model="form.draft.value.name"
      label="Name of the firm"
      needed
      :fault="form.faultAt('name')"
    />
    <div class="two">
      <ChoiceField
        v-model="form.draft.value.zone"
        label="Time zone"
        :items="ZONES"
        :fault="form.faultAt('zone')"
      />
      <ChoiceField
        v-model="form.draft.value.currency"
        label="Currency"
        :items="CURRENCIES"
        :fault="form.faultAt('currency')"
      />
    </div>
    <h2 class="section">
      Working hours
      <span>a day left empty is free; people may have hours of their own</span>
    </h2>
    <WeekFields
      v-model="form.draft.value.hours"
      :fault-at="(day) => form.faultAt(`hours.${day}`) || ''"
    />
    <h2 class="section">
      What the states of a project are called
      <span>all but the second stand still</span>
    </h2>
    <div class="four">
      <LineField
        v-for="(usual, state) in PROJECT_STATE_NAMES"
        :key="state"
        v-model="form.draft.value.projectNames[state]"
        :label="`Called “${usual}” at first`"
        :most="24"
        needed
        :fault="form.faultAt(`projectNames.${state}`)"
      />
    </div>
    <p v-if="form.fault.value || form.faults.value['hours']" class="wrong" role="alert">
      {{ form.fault.value || form.faults.value['hours'] }}
    </p>
    <v-btn type="submit" :disabled="!form.dirty.value || form.busy.value">Save</v-btn>
  </form>
</template>

<style scoped>
.four {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
  gap: 0 12px;
}
</style>
