<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { addDays } from '#core/calendar/dates.ts'
import type { Decided, DecideBody, Round, RoundDate } from '#contract/series.ts'
import { post } from '#web/api/client.ts'
import { PERIOD_LIST } from '#web/parts/choices.ts'
import LoadState from '#web/parts/LoadState.vue'
import OneOf from '#web/parts/OneOf.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useTitle } from '#web/state/title.ts'
import ClockworkNav from './ClockworkNav.vue'
import MoveDates from './MoveDates.vue'
import MovedDates from './MovedDates.vue'
import RoundAudit from './RoundAudit.vue'
import RoundGrid from './RoundGrid.vue'
import StandMark from './StandMark.vue'
import { datesOf, keyOf, periodIn, type PeriodOf } from './round.ts'
import { sayStand, WENT_LIST } from './went.ts'

/** The round: how every client's repeated work of a period stands, with what can be done about it. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const route = useRoute()
const router = useRouter()
const period = computed(() => periodIn(route.query['of'], route.query['at'], session.today))
const { data, error, reload } = useResource<Round>(
  () => `/series/round?from=${period.value.first}&to=${period.value.last}`,
  (c) =>
    ['series', 'seriesDates', 'tasks', 'projects', 'clients'].some((e) => c.entities.includes(e)),
  { keep: true },
)
const may = computed(() => session.me?.may.structure ?? false)
const go = (of: PeriodOf, at: string) => void router.replace({ query: { of, at } })
const of = computed({
  get: () => period.value.of,
  set: (to) =>
    go(
      to,
      period.value.first <= session.today && session.today <= period.value.last
        ? session.today
        : period.value.first,
    ),
})
const earlier = () => go(period.value.of, addDays(period.value.first, -1))
const later = () => go(period.value.of, addDays(period.value.last, 1))
useTitle(() => `Round, ${period.value.name}`)

const counts = computed(() => {
  const by = new Map<string, number>()
  for (const { stand } of data.value ? datesOf(data.value) : [])
    by.set(stand, (by.get(stand) ?? 0) + 1)
  return WENT_LIST.flatMap((stand) => (by.get(stand) ? [{ stand, count: by.get(stand)! }] : []))
})
/** Only what stands so is shown in full; the rest is faint. */
const lit = ref<string | null>(null)
const marked = ref(new Set<string>())
const chosen = computed(() =>
  (data.value ? datesOf(data.value) : []).filter((date) => marked.value.has(keyOf(date))),
)
const moving = ref<RoundDate[] | null>(null)
function moved(): void {
  moving.value = null
  marked.value = new Set()
  void reload()
}
const decide = (deed: DecideBody['deed'], dates: readonly RoundDate[]) =>
  attempt(async () => {
    const decided = await post<Decided>('/series/decide', {
      deed,
      dates: dates.map(({ series, scheduled }) => ({ series, scheduled })),
    })
    marked.value = new Set()
    const told = { make: 'made', skip: 'left out', back: 'put back', move: 'moved' }[deed]
    const said = `${plural(decided.done, 'date')} ${told}.`
    messages.did([said, ...decided.left].join(' '), decided)
    await reload()
  })
</script>

<template>
  <main>
    <ClockworkNav>
      <v-btn v-if="may" variant="flat" to="/clockwork/series/new">Make a series</v-btn>
    </ClockworkNav>
    <div class="all">
      <header class="top">
        <h1>{{ period.name }}</h1>
        <v-btn variant="outlined" @click="earlier">Earlier</v-btn>
        <v-btn variant="outlined" @click="go(period.of, session.today)">Today</v-btn>
        <v-btn variant="outlined" @click="later">On</v-btn>
        <span class="gap" />
        <OneOf v-model="of" label="Over a" :options="PERIOD_LIST" />
      </header>
      <p v-if="counts.length" class="counts">
        <v-btn
          v-for="c in counts"
          :key="c.stand"
          variant="plain"
          :aria-pressed="lit === c.stand"
          @click="lit = lit === c.stand ? null : c.stand"
        >
          <StandMark :stand="c.stand" />
          {{ c.count }} {{ sayStand(c.stand) }}
        </v-btn>
      </p>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!data.rows.length" class="empty">
        <h3>Nothing repeats yet</h3>
        <p>
          What repeats for each client stands here, month by month: what is made, under way, done,
          late or still to come.
        </p>
      </div>
      <RoundGrid
        v-else
        v-model="marked"
        :round="data"
        :lit="lit"
        :may="may"
        :brief="period.of === 'month' || period.of === 'week'"
        @decide="decide"
        @move="moving = $event"
      />
      <MovedDates :may="may" />
      <RoundAudit />
    </div>
    <div v-if="chosen.length" class="chosen" role="region" aria-label="What is marked">
      <b>{{ plural(chosen.length, 'date') }} marked</b>
      <v-btn variant="outlined" @click="decide('make', chosen)">Make them now</v-btn>
      <v-btn variant="outlined" @click="decide('skip', chosen)">Leave them out</v-btn>
      <v-btn variant="outlined" @click="moving = chosen">Move them</v-btn>
      <v-btn variant="text" @click="marked = new Set()">Unmark</v-btn>
    </div>
    <MoveDates v-if="moving" :dates="moving" @close="moving = null" @moved="moved" />
  </main>
</template>

<style scoped>
.all {
  padding: 20px 24px 80px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.top h1 {
  margin-right: 12px;
}
.gap {
  flex: 1;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 12px 0;
}
.counts :deep(.v-btn__content) {
  gap: 6px;
}
.counts [aria-pressed='true'] {
  font-weight: 650;
  text-decoration: underline;
}
.chosen {
  position: fixed;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 8px 14px;
  border: 1px solid var(--rule-strong);
  border-radius: 6px;
  background: var(--sheet);
  box-shadow: 0 6px 24px rgb(0 0 0 / 18%);
  z-index: 5;
}
</style>
