<script setup lang="ts">
import { ref } from 'vue'
import type { DateOf, Decided, DecideBody, NextDate } from '#contract/series.ts'
import { post } from '#web/api/client.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { sayDate, sayDateAt } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import MoveDates from './MoveDates.vue'

/** The next twelve dates; of a series that is saved, each can be made now, left out or moved. */
const { dates, series, leftOut } = defineProps<{
  dates: readonly NextDate[]
  wrong: string
  /** The series whose dates they are; null while they are being edited. */
  series: number | null
  leftOut: readonly string[]
}>()
const emit = defineEmits<{ decided: [] }>()
const session = useSession()
const { attempt } = useAttempt()
const messages = useMessages()
const DID = { make: 'made', skip: 'left out', move: 'moved', back: 'back where it was' }
const day = (date: string) => sayDate(date, session.today)

const moving = ref<(DateOf & { date: string })[] | null>(null)
const run = (deed: DecideBody['deed'], scheduled: string) =>
  attempt(async () => {
    const dates = [{ series, scheduled }]
    const decided = await post<Decided>('/series/decide', { deed, dates })
    messages.did(`${day(scheduled)} is ${DID[deed]}.`, decided)
    emit('decided')
  })
function moved(): void {
  moving.value = null
  emit('decided')
}
const move = ({ scheduled, date }: NextDate) =>
  (moving.value = [{ series: series!, scheduled, date }])
const lines = (date: NextDate) => [
  { name: 'Make it now', run: () => run('make', date.scheduled) },
  { name: 'Leave it out', run: () => run('skip', date.scheduled) },
  { name: 'Move it', run: () => move(date) },
  date.byHand && { name: 'Back to its own date', run: () => run('back', date.scheduled) },
]
</script>

<template>
  <h3>The next twelve dates</h3>
  <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  <div v-for="d in dates" :key="d.scheduled" class="date">
    <b>{{ sayDateAt(d.date, d.date.slice(11), session.saying) }}</b>
    <span class="quiet small">made {{ day(d.makeOn) }}</span>
    <LineMenu v-if="series !== null" :label="`More for ${day(d.date)}`" :lines="lines(d)" />
    <small v-if="d.why" class="ochre">{{ d.why }}</small>
    <small v-if="d.joins.length" class="quiet">also for {{ d.joins.map(day).join(', ') }}</small>
    <small v-if="d.away.length" class="ochre">away then: {{ d.away.join(', ') }}</small>
  </div>
  <template v-if="leftOut.length && series !== null">
    <h3>Left out</h3>
    <div v-for="scheduled in leftOut" :key="scheduled" class="date">
      <s>{{ day(scheduled) }}</s>
      <v-btn variant="text" @click="run('back', scheduled)">Bring it back</v-btn>
    </div>
  </template>
  <MoveDates v-if="moving" :dates="moving" @close="moving = null" @moved="moved" />
</template>

<style scoped>
h3 {
  margin: 4px 0 8px;
}
.date {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 0 8px;
  align-items: center;
}
.date small {
  grid-column: 1/-1;
}
</style>
