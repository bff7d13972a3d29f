<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { FoundSeries, SeriesBody, SeriesFound } from '#contract/series.ts'
import { call, post } from '#web/api/client.ts'
import FileDrop from '#web/parts/FileDrop.vue'
import NumberField from '#web/parts/NumberField.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import ClockworkNav from './ClockworkNav.vue'

/** Series out of a calendar file: looked at first, then made, each a series of tasks. */
const session = useSession()
const messages = useMessages()
const router = useRouter()
const { wrong, busy, attempt } = useAttempt('here')
const found = ref<SeriesFound | null>(null)
const chosen = ref<number[]>([])
const leadDays = ref(3)
const assignees = ref<number[]>([session.me!.id])
const people = computed(() => session.active.map(({ id, name }) => ({ value: id, title: name })))

type Good = Extract<FoundSeries, { schedule: unknown }>
const isGood = (one: FoundSeries): one is Good => 'schedule' in one
const read = ([file]: File[]) =>
  attempt(async () => {
    if (!file) return
    const answer = await call<SeriesFound>('POST', '/series/read', { bytes: file, asks: true })
    found.value = answer
    chosen.value = answer.series.flatMap((one, i) => (isGood(one) ? [i] : []))
  })
const says = (one: FoundSeries): string => {
  if (!isGood(one)) return one.problem
  const moved = one.byHand.filter(({ date }) => date !== null).length
  return [
    `from ${sayDate(one.schedule.start, session.today)}`,
    String(one.schedule.rule),
    moved && `${plural(moved, 'date')} moved`,
    one.schedule.exclude?.length && `${one.schedule.exclude.length} left out`,
  ]
    .filter(Boolean)
    .join(', ')
}
const bodyOf = ({ name, description, schedule, byHand }: Good): SeriesBody & object => ({
  ...{ name, schedule, leadDays: leadDays.value, byHand },
  // What is due by now is not made up for.
  begin: 'next',
  makes: {
    ...{ kind: 'task', title: name, description, clientId: null, projectId: null },
    ...{ assignees: assignees.value, estimate: null, checklist: [] },
    period: { of: 'month', which: 'same' },
  },
})
const bring = () =>
  attempt(async () => {
    const series = (found.value?.series ?? []).filter(
      (one, i): one is Good => chosen.value.includes(i) && isGood(one),
    )
    const done = await post<{ made: number }>('/series/bring', { series: series.map(bodyOf) })
    messages.did(`${plural(done.made, 'series', 'series')} brought in.`, done)
    await router.push('/clockwork/series')
  })
</script>

<template>
  <main>
    <ClockworkNav />
    <div class="sheet narrow">
      <h1>Bring in series</h1>
      <p class="quiet">
        Events that come again, out of a calendar file: by their rule, without what was left out,
        with what was moved. Each becomes a series of tasks.
      </p>
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
        <p v-if="found.single" class="quiet small">
          {{ plural(found.single, 'event') }} that do not come again are left.
        </p>
        <ul class="found">
          <li v-for="(one, i) in found.series" :key="i">
            <v-checkbox
              v-model="chosen"
              :value="i"
              :label="one.name"
              :disabled="!isGood(one)"
              density="compact"
              hide-details
            />
            <span class="small" :class="isGood(one) ? 'quiet' : 'alarm'">{{ says(one) }}</span>
          </li>
        </ul>
        <p v-if="!found.series.length" class="quiet">Nothing in it comes again.</p>
        <v-form v-else @submit.prevent="bring">
          <div class="field">
            <label for="bs-on">On them</label>
            <v-select id="bs-on" v-model="assignees" :items="people" multiple />
          </div>
          <p class="line">
            Made
            <NumberField
              :model-value="leadDays"
              label="Lead, working days"
              :max="200"
              @update:model-value="$event !== null && (leadDays = $event)"
            />
            working days before each date
          </p>
          <div class="btns">
            <v-btn type="submit" variant="flat" :disabled="busy || !chosen.length">
              Bring in {{ plural(chosen.length, 'series', 'series') }}
            </v-btn>
          </div>
        </v-form>
      </template>
    </div>
  </main>
</template>

<style scoped>
.found {
  list-style: none;
  margin: 10px 0;
  padding: 0;
}
.found li {
  border-top: 1px solid var(--rule);
  padding: 2px 0 6px;
}
.found .small {
  display: block;
  margin-left: 40px;
  overflow-wrap: anywhere;
}
.line {
  margin: 10px 0;
}
</style>
