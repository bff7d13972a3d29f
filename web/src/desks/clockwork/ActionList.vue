<script setup lang="ts">
import type { ActionKind } from '#contract/actions/action.ts'
import type { Action } from '#contract/actions/index.ts'
import { tell } from '#contract/actions/tell.ts'
import type { Known } from '#web/fields/known.ts'
import StepEdit from './StepEdit.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'

/** What is done, one after the other; there is always something. */
const actions = defineModel<readonly Action[]>({ required: true })
const props = defineProps<{
  known: Known
  kinds: readonly ActionKind[]
  may: boolean
  wording?: string
}>()
const set = (index: number, next: Action | null) =>
  (actions.value = actions.value.flatMap((a, i) => (i === index ? (next ? [next] : []) : [a])))
const more = (): Action => ({
  ...{ kind: tell.kind, ...tell.blank },
  ...(props.wording !== undefined && { text: props.wording }),
})
</script>

<template>
  <div v-for="(action, i) in actions" :key="i" class="action">
    <StepEdit
      :model-value="action"
      :kinds="kinds"
      label="Action"
      :known="known"
      :wording="wording"
      @update:model-value="set(i, $event)"
    />
    <RemoveButton
      v-if="may && actions.length > 1"
      aria-label="Remove this step"
      @click="set(i, null)"
    />
  </div>
  <v-btn variant="text" v-if="may" class="small" @click="actions = [...actions, more()]">
    Also do
  </v-btn>
</template>

<style scoped>
.action {
  padding: 1px 0;
}
</style>
