<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { About } from '#contract/actions/action.ts'
import type { RuleBody, RuleTrial, RuleTry } from '#contract/rules.ts'
import { post, sentence } from '#web/api/client.ts'
import type { Known } from '#web/fields/known.ts'
import ItemPick from './ItemPick.vue'

/** Tries a rule as it is written on one item: what it asks, what it would do. Nothing is changed. */
const props = defineProps<{ body: RuleBody; about: About; known: Known }>()
const item = defineModel<number | null>({ required: true })
const trial = ref<RuleTrial | null>(null)
const wrong = ref('')
const busy = ref(false)
watch(
  () => props.about,
  () => (item.value = null),
)
// What was tried was another rule, or another item.
watch([() => props.body, item], () => (trial.value = null), { deep: true })
async function tryIt(): Promise<void> {
  if (item.value === null) return
  busy.value = true
  wrong.value = ''
  try {
    const asked: RuleTry = { ...props.body, item: item.value }
    trial.value = await post<RuleTrial>('/rules/try', asked)
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
/** Why it would not run, first of all. */
const verdict = computed(() => {
  const { reaches, rests, holds } = trial.value ?? {}
  if (reaches === false) return `It does not act on this ${props.about}: that is elsewhere.`
  if (rests) return `Time brings nothing to this ${props.about}: it stands still.`
  return holds ? 'What it asks holds now.' : 'What it asks does not hold now: it would do nothing.'
})
const acts = computed(() => trial.value !== null && trial.value.reaches && trial.value.holds)
</script>

<template>
  <section class="try">
    <h3>Try it on one {{ about }}</h3>
    <form class="btns" @submit.prevent="tryIt">
      <ItemPick
        v-model="item"
        class="pick"
        :about="about"
        :known="known"
        :label="`Which ${about}`"
      />
      <v-btn type="submit" :disabled="item === null || busy">Try it</v-btn>
    </form>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div v-if="trial" role="status">
      <p :class="acts ? '' : 'ochre'">{{ verdict }}</p>
      <ul v-if="trial.tests.length" class="tests">
        <li v-for="(test, i) in trial.tests" :key="i" :class="{ quiet: test.held }">
          <b>{{ test.held ? 'Held' : 'Not' }}</b>
          {{ test.said }}
        </li>
      </ul>
      <p v-if="!acts" class="small quiet">If it did act, it would do this:</p>
      <div v-for="part in trial.parts" :key="part.name" class="part">
        <p v-if="part.name" class="small quiet">{{ part.name }}</p>
        <p v-if="part.failed" class="wrong">It would fail: {{ part.failed }}</p>
        <ol v-if="part.did.length">
          <li v-for="(did, i) in part.did" :key="i">{{ did }}</li>
        </ol>
        <p v-else-if="!part.failed" class="quiet">Nothing could be done.</p>
        <p v-for="(said, i) in part.says" :key="`s${i}`" class="said">
          “{{ said.text }}” to {{ said.to }}{{ said.mail ? ', by e-mail too' : '' }}
        </p>
        <p v-for="(left, i) in part.left" :key="`l${i}`" class="small quiet">{{ left }}</p>
      </div>
      <p class="small quiet">Nothing was changed, and nobody was told.</p>
    </div>
  </section>
</template>

<style scoped>
.try {
  margin-top: 22px;
  max-width: 620px;
}
.try h3 {
  margin-bottom: 6px;
}
.pick {
  flex: 1 1 260px;
}
.tests {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
.tests b {
  display: inline-block;
  min-width: 42px;
}
.part {
  border-left: 2px solid var(--fern);
  padding: 2px 0 2px 12px;
  margin: 8px 0;
}
.part ol {
  margin: 0;
  padding-left: 18px;
}
.said {
  color: var(--ink-2);
  padding: 2px 0;
}
</style>
