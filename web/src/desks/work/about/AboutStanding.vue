<script setup lang="ts">
import { ref } from 'vue'
import { HEALTH_NAMES, HEALTHS, type Health } from '#contract/words.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import HealthMark from '../HealthMark.vue'
import { useProjectEdits } from './useProjectEdits.ts'

/** How a project stands: judged by its dates, or by hand. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const { edit } = useProjectEdits(
  () => props.project,
  () => emit('changed'),
)
const judging = ref<Health | ''>('')
const reason = ref('')
async function judge(): Promise<void> {
  const said = judging.value
    ? `It stands “${HEALTH_NAMES[judging.value]}” now.`
    : 'Its dates say how it stands.'
  if (await edit({ health: judging.value || null, healthReason: reason.value }, said))
    judging.value = ''
}
</script>

<template>
  <h2 class="section">How it stands</h2>
  <p class="stand">
    <HealthMark :health="project.health" />
    {{ project.health.reason }}
    <span class="quiet small">
      {{ project.health.byHand ? 'Set by hand.' : 'Judged by its dates.' }}
    </span>
  </p>
  <form v-if="project.may.edit" class="btns" @submit.prevent="judge">
    <v-select
      v-model="judging"
      class="judge"
      aria-label="Set how it stands"
      :items="[
        { value: '', title: 'by its dates' },
        ...HEALTHS.map((h) => ({ value: h, title: HEALTH_NAMES[h] })),
      ]"
    />
    <v-text-field
      v-if="judging"
      v-model="reason"
      class="why"
      maxlength="500"
      placeholder="Why, in a few words"
      aria-label="Why"
      required
    />
    <v-btn type="submit" :disabled="!judging && !project.health.byHand">Set</v-btn>
  </form>
</template>

<style scoped>
.stand {
  margin: 6px 0;
}
.why {
  width: 220px;
}
.judge {
  flex: none;
  width: 150px;
}
</style>
