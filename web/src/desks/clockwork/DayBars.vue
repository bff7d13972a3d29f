<script setup lang="ts">
import { computed } from 'vue'
import type { IsoDate } from '#core/brands.ts'
import { addDays } from '#core/calendar/dates.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'

/** How often something happened on each of the last days, as bars; read out as a sentence. */
const props = defineProps<{
  days: readonly { readonly day: string; readonly runs: number }[]
  /** The first day that is drawn. */
  from: string
}>()
const session = useSession()
/** As many days as are drawn. */
const MOST = 40
const bars = computed(() => {
  const by = new Map(props.days.map(({ day, runs }) => [day, runs]))
  const all: { day: string; runs: number }[] = []
  let day = props.from as IsoDate
  for (; day <= session.today && all.length < MOST; day = addDays(day, 1))
    all.push({ day, runs: by.get(day) ?? 0 })
  return all
})
const most = computed(() => Math.max(1, ...bars.value.map(({ runs }) => runs)))
const busiest = computed(() => bars.value.find(({ runs }) => runs === most.value))
const said = computed(() => {
  const ran = bars.value.filter(({ runs }) => runs > 0).length
  const top = busiest.value
  const on = top ? `, most on ${sayDate(top.day, session.today)} (${top.runs})` : ''
  return `On ${plural(ran, 'day')} of ${bars.value.length}${on}`
})
</script>

<template>
  <figure>
    <div class="bars" role="img" :aria-label="said">
      <span
        v-for="{ day, runs } in bars"
        :key="day"
        :class="{ none: runs === 0 }"
        :style="{ height: `${Math.max(2, (runs / most) * 44)}px` }"
        :data-tip="`${sayDate(day, session.today)}: ${runs}`"
      />
    </div>
    <figcaption class="small quiet">
      <span>{{ sayDate(from, session.today) }}</span>
      <span>{{ said }}</span>
      <span>today</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 8px 0 10px;
}
.bars {
  display: flex;
  align-items: flex-end;
  gap: 2px;
  height: 46px;
  border-bottom: 1px solid var(--rule-strong);
}
.bars span {
  flex: 1 1 0;
  min-width: 2px;
  background: var(--fern);
  border-radius: 1px 1px 0 0;
}
.bars .none {
  background: var(--rule-strong);
}
figcaption > :first-child,
figcaption > :last-child {
  white-space: nowrap;
}
figcaption {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
</style>
