<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { toLocal } from '#core/calendar/dates.ts'
import type { RuleBody, RulePast, RulePastBody } from '#contract/rules.ts'
import { post, sentence } from '#web/api/client.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import DayBars from './DayBars.vue'
import PastRuns from './PastRuns.vue'

/** What a rule as it is written would have done in the last 30 days, by facts as they were then. */
const props = defineProps<{ body: RuleBody; rule: number | null }>()
const session = useSession()
const past = ref<RulePast | null>(null)
const wrong = ref('')
const busy = ref(false)
// What was asked was another rule.
watch(
  () => props.body,
  () => (past.value = null),
  { deep: true },
)
async function ask(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    const asked: RulePastBody = { ...props.body, ...(props.rule && { rule: props.rule }) }
    past.value = await post<RulePast>('/rules/past', asked)
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const first = computed(() =>
  past.value ? toLocal(past.value.from, session.saying.zone).date : session.today,
)
const said = computed(() => {
  const { runs, items, from, cut } = past.value!
  const since = `since ${sayDate(first.value, session.today)}`
  const back = cut ? `; what is written down goes back to ${session.sayAt(from)}` : ''
  if (runs === 0) return `It would not have run ${since}${back}.`
  return `It would have run ${plural(runs, 'time')} on ${plural(items, 'item')} ${since}${back}.`
})
</script>

<template>
  <section class="past">
    <h3>Had it run</h3>
    <p class="small quiet">
      Asked of the last 30 days, with everything as it was at each moment. Nothing is done.
    </p>
    <v-btn :disabled="busy" :loading="busy" @click="ask">Ask the last 30 days</v-btn>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div v-if="past" role="status">
      <p class="said">{{ said }}</p>
      <template v-if="past.runs">
        <DayBars :days="past.days" :from="first" />
        <PastRuns :runs="past.newest" />
        <p v-if="past.newest.length < past.runs" class="small quiet">
          These are the newest {{ past.newest.length }}.
        </p>
      </template>
      <template v-if="past.left.length">
        <h4>What it would have left</h4>
        <PastRuns :runs="past.left" />
      </template>
    </div>
  </section>
</template>

<style scoped>
.past {
  margin-top: 22px;
  max-width: 620px;
}
.past h3 {
  margin-bottom: 2px;
}
.past h4 {
  margin: 14px 0 4px;
}
.said {
  margin-top: 10px;
}
</style>
