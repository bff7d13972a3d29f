<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { IsoDate } from '#core/brands.ts'
import { localTime, toInstant } from '#core/calendar/dates.ts'
import type { RuleSheet, WhyNot } from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import { get, sentence } from '#web/api/client.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import DateField from '#web/parts/DateField.vue'
import TimeField from '#web/parts/TimeField.vue'
import { useNarrowing } from '#web/parts/useNarrowing.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import ClockworkNav from './ClockworkNav.vue'
import ItemPick from './ItemPick.vue'
import LateWork from './LateWork.vue'
import PastRuns from './PastRuns.vue'

/** Why a rule did nothing to something, up to a past moment of a day. */
const session = useSession()
const known = useKnown()
const { number, narrow } = useNarrowing()
const { data: rules } = useResource<RuleSheet[]>(
  () => '/rules',
  () => false,
)
const rule = computed(() => rules.value?.find(({ id }) => id === number('rule')))
const about = computed(
  () => (rule.value && triggerKind(rule.value.definition.trigger.kind)?.about) ?? 'task',
)
const item = computed({
  get: () => number(about.value) || null,
  set: (to) => void narrow(about.value, to),
})
const day = ref<string | null>(session.today)
const time = ref<string | null>(null)
const why = ref<WhyNot | null>(null)
const wrong = ref('')
const busy = ref(false)
watch([rule, item, day, time], () => (why.value = null))
/** The moment asked about: the end of the day, or now, where no time is given. */
const moment = computed(() =>
  day.value
    ? toInstant(day.value as IsoDate, localTime(time.value ?? '23:59'), session.saying.zone)
    : null,
)
const asks = computed(() => rule.value !== undefined && item.value !== null && moment.value)
async function ask(): Promise<void> {
  if (!rule.value || item.value === null || moment.value === null) return
  busy.value = true
  wrong.value = ''
  const query = `${about.value}=${item.value}&at=${moment.value}`
  try {
    why.value = await get<WhyNot>(`/rules/${rule.value.id}/why?${query}`)
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main>
    <ClockworkNav />
    <div class="sheet narrow">
      <h1>Why not?</h1>
      <div class="sub">
        <span>Why a rule did nothing to something, on any day, up to any moment of it.</span>
      </div>
      <form class="asked" @submit.prevent="ask">
        <label for="why-rule">Rule</label>
        <v-autocomplete
          id="why-rule"
          :model-value="rule?.id ?? null"
          :items="(rules ?? []).map(({ id, name }) => ({ value: id, title: name }))"
          placeholder="choose a rule"
          @update:model-value="narrow('rule', $event)"
        />
        <span>Which {{ about }}</span>
        <ItemPick v-model="item" :about="about" :known="known" :label="`Which ${about}`" />
        <label for="why-day">On</label>
        <div class="moment">
          <DateField id="why-day" v-model="day" label="Day" />
          <label for="why-time">up to</label>
          <TimeField id="why-time" v-model="time" label="Up to" />
        </div>
        <span />
        <div>
          <v-btn type="submit" variant="flat" :disabled="!asks || busy" :loading="busy">
            Ask why
          </v-btn>
        </div>
      </form>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <section v-if="why" role="status" class="answer">
        <h2 :class="{ ochre: !why.ran }">{{ why.answer }}</h2>
        <p v-if="why.cut" class="small quiet">
          What is written down goes back to {{ session.sayAt(why.from) }}: asked of that moment.
        </p>
        <PastRuns v-if="why.runs.length" :runs="why.runs" />
        <h3 class="section">How it stood</h3>
        <ul class="checks">
          <li v-for="check in why.checks" :key="check.said">
            <b :class="check.ok ? 'quiet' : 'ochre'">{{ check.ok ? 'Yes' : 'No' }}</b>
            {{ check.said }}
          </li>
        </ul>
        <template v-if="why.tests.length">
          <h3 class="section">What it asks</h3>
          <ul class="checks">
            <li v-for="test in why.tests" :key="test.said">
              <b :class="test.held ? 'quiet' : 'ochre'">{{ test.held ? 'Held' : 'Not' }}</b>
              {{ test.said }}
            </li>
          </ul>
        </template>
      </section>
      <LateWork />
    </div>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
.asked {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr);
  gap: 8px 10px;
  align-items: center;
  max-width: 560px;
}
.moment {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.answer {
  margin-top: 18px;
}
.answer h2 {
  font: 500 20px/1.3 var(--display);
  overflow-wrap: anywhere;
}
.checks {
  list-style: none;
  margin: 0;
  padding: 0;
}
.checks li {
  padding: 3px 0;
}
.checks b {
  display: inline-block;
  min-width: 46px;
}
</style>
