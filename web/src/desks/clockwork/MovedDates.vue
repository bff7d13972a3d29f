<script setup lang="ts">
import type { Decided, MovedDate } from '#contract/series.ts'
import { post } from '#web/api/client.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** What was made for days that are not what they were: other holidays would move it. */
const { may } = defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { data, reload } = useResource<MovedDate[]>(
  () => '/series/moved',
  ({ entities }) =>
    ['holidays', 'firm', 'series', 'tasks', 'projects'].some((e) => entities.includes(e)),
  { keep: true },
)
const day = (date: string) => sayDate(date, session.today)
const move = (dates: readonly MovedDate[]) =>
  attempt(async () => {
    const chosen = dates.map(({ series, scheduled }) => ({ series, scheduled }))
    const done = await post<Decided>('/series/moved', { dates: chosen })
    messages.did([`${plural(done.done, 'date')} moved.`, ...done.left].join(' '), done)
    await reload()
  })
</script>

<template>
  <section v-if="data?.length" class="moved" aria-labelledby="md-head">
    <h2 id="md-head" class="section">
      Made for days that are not what they were
      <span>{{ plural(data.length, 'date') }}</span>
    </h2>
    <p class="small quiet">
      Holidays or working days were changed since. What was not made yet has moved by itself.
    </p>
    <div v-for="d in data" :key="`${d.series} ${d.scheduled}`" class="one">
      <v-btn
        variant="plain"
        :to="d.project ? `/work/${d.project.id}` : `/today?task=${d.task?.id}`"
      >
        {{ d.project?.name ?? d.task?.title ?? 'Something not for you' }}
      </v-btn>
      <span>{{ day(d.date) }} → {{ day(d.to) }}</span>
      <v-btn v-if="may" variant="text" @click="move([d])">Move it</v-btn>
    </div>
    <v-btn v-if="may && data.length > 1" variant="outlined" @click="move(data)">
      Move them all
    </v-btn>
  </section>
</template>

<style scoped>
.moved {
  margin-top: 22px;
}
.one {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 12px;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
</style>
