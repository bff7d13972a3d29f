<script setup lang="ts">
import { computed, ref } from 'vue'
import type { HolidayRow } from '#contract/firm.ts'
import { post, remove } from '#web/api/client.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import LoadState from '#web/parts/LoadState.vue'
import { sayDate } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import FirmHolidayAdd from './FirmHolidayAdd.vue'
import FirmHolidaysBring from './FirmHolidaysBring.vue'

/** The days that the firm does not work on, a year at a time: those of its place, and its own. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<HolidayRow[]>(
  () => '/firm/holidays',
  ({ entities }) => entities.includes('holidays'),
  { keep: true },
)
const years = computed(() => {
  const known = (data.value ?? []).map(({ date }) => date.slice(0, 4))
  return [...new Set([session.today.slice(0, 4), ...known])].sort()
})
const year = ref(session.today.slice(0, 4))
const shown = computed(() => data.value?.filter(({ date }) => date.startsWith(year.value)) ?? [])
const YEARS = computed(() => years.value.map((value) => ({ value, name: value })))
const day = (date: string) => sayDate(date, session.today)
const part = (half: boolean) => (half ? 'half a day' : 'the whole day')

const takeOut = ({ id, date }: HolidayRow) =>
  attempt(async () => {
    messages.did(`The firm works on ${day(date)}.`, await remove(`/firm/holidays/${id}`))
    await reload()
  })
const enter = ({ date, name, half }: HolidayRow) =>
  attempt(async () => {
    const done = await post('/firm/holidays', { days: [{ date, name, half }] })
    messages.did(`${name}, ${day(date)}: ${part(half)}.`, done)
    await reload()
  })
const lines = (row: HolidayRow) => [
  { name: `Take ${part(!row.half)}`, run: () => enter({ ...row, half: !row.half }) },
  { name: 'Take it out: the firm works then', run: () => takeOut(row) },
]
const asking = ref<'add' | 'bring' | null>(null)
async function entered(dates: readonly string[]): Promise<void> {
  asking.value = null
  if (dates[0]) year.value = dates[0].slice(0, 4)
  await reload()
}
</script>

<template>
  <section aria-labelledby="fh-head">
    <h2 id="fh-head" class="section">
      Holidays
      <span>what is to come moves with them; what was made stays</span>
    </h2>
    <p class="line">
      In
      <TokenPick v-model="year" :options="YEARS" label="Year" tone="value" />
    </p>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <p v-else-if="!shown.length" class="quiet">None is known.</p>
    <ul>
      <li v-for="row in shown" :key="row.id" :class="{ quiet: row.date < session.today }">
        <span class="when">{{ sayDate(row.date, row.date) }}</span>
        <span class="name">{{ row.name }}</span>
        <span class="quiet small">
          {{ [row.half && 'half a day', row.own && 'entered here'].filter(Boolean).join(', ') }}
        </span>
        <LineMenu :label="`More for ${row.name}, ${day(row.date)}`" :lines="lines(row)" />
      </li>
    </ul>
    <div class="btns">
      <v-btn @click="asking = 'add'">Add a holiday</v-btn>
      <v-btn variant="text" @click="asking = 'bring'">Bring in a calendar file</v-btn>
    </div>
    <p class="small quiet under">
      What was made for days that they would move stands under
      <v-btn variant="plain" class="auto" to="/clockwork/round">the round</v-btn>
    </p>
    <FirmHolidayAdd v-if="asking === 'add'" @close="asking = null" @done="entered" />
    <FirmHolidaysBring v-if="asking === 'bring'" @close="asking = null" @done="entered" />
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}
li {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: center;
  min-height: 36px;
}
.under {
  margin-top: 8px;
}
</style>
