<script setup lang="ts">
import { computed } from 'vue'
import { MONTH_NAMES } from '#core/text/names.ts'
import type { PastDate } from '#contract/series.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import StandMark from './StandMark.vue'
import { sayStand, sayWent, WENT_LIST, type Stand } from './went.ts'

/** The dates of a series over a year: half of it past, each with how it went, and half to come. */
const { past, ahead } = defineProps<{ past: readonly PastDate[]; ahead: readonly string[] }>()
const session = useSession()
const DAY = 86_400_000
const today = computed(() => Date.parse(session.today))
const from = computed(() => today.value - 183 * DAY)
const at = (date: string) => ((Date.parse(date.slice(0, 10)) - from.value) / (366 * DAY)) * 100

interface Mark {
  readonly key: string
  readonly at: number
  readonly stand: Stand
  readonly says: string
}
const marks = computed((): Mark[] =>
  [
    ...past.map((one): Mark => ({
      ...{ key: `p${one.scheduled}${one.at}`, at: at(one.date), stand: one.went },
      says: `${sayDate(one.date, session.today)}: ${sayWent(one, session.today)}`,
    })),
    ...ahead.map((date): Mark => ({
      ...{ key: `a${date}`, at: at(date), stand: 'expected' },
      says: `${sayDate(date, session.today)}: expected`,
    })),
  ].filter((mark) => mark.at >= 0 && mark.at <= 100),
)
const months = computed(() => {
  const first = new Date(from.value)
  return Array.from({ length: 12 }, (_, i) => {
    const day = Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1 + i, 1)
    const name = MONTH_NAMES[new Date(day).getUTCMonth()]!.slice(0, 3)
    const begins = ((day - from.value) / (366 * DAY)) * 100
    // At the very end there is no room for a name.
    return { name: begins > 96 ? '' : name, at: begins }
  })
})
const used = computed(() => WENT_LIST.filter((s) => marks.value.some((mark) => mark.stand === s)))
const label = computed(
  () => `A year of it: ${marks.value.map((mark) => mark.says).join('; ') || 'nothing'}`,
)
</script>

<template>
  <figure class="strip">
    <div class="line" role="img" :aria-label="label">
      <i v-for="m in months" :key="m.at" class="month" :style="{ left: `${m.at}%` }">
        {{ m.name }}
      </i>
      <i class="now" :style="{ left: '50%' }" />
      <span v-for="m in marks" :key="m.key" :style="{ left: `${m.at}%` }" :title="m.says">
        <StandMark :stand="m.stand" />
      </span>
    </div>
    <figcaption class="small quiet">
      <span v-for="s in used" :key="s">
        <StandMark :stand="s" />
        {{ sayStand(s) }}
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.strip {
  margin: 8px 0 4px;
}
.line {
  position: relative;
  height: 44px;
  border-bottom: 1px solid var(--rule-strong);
}
.month {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule);
  padding-left: 4px;
  font: normal 11px/1.2 var(--sans);
  color: var(--ink-3);
}
.now {
  position: absolute;
  top: 16px;
  bottom: 0;
  border-left: 2px solid var(--dusk);
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding-top: 5px;
}
figcaption span {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
.line > span {
  position: absolute;
  bottom: 3px;
  margin-left: -5px;
  line-height: 1;
}
</style>
