<script setup lang="ts">
import type { Branch } from '#core/rules/program.ts'
import type { About, ActionKind } from '#contract/actions/action.ts'
import type { Action } from '#contract/actions/index.ts'
import type { Deed } from '#contract/rules.ts'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import type { Known } from '#web/fields/known.ts'
import DeedList from './DeedList.vue'

/** Actions under conditions of their own, and what is done where those do not hold. */
const branch = defineModel<Branch<Action>>({ required: true })
defineProps<{
  known: Known
  kinds: readonly ActionKind[]
  about: About
  may: boolean
  wording?: string | undefined
}>()
const set = (edit: Partial<Branch<Action>>) => (branch.value = { ...branch.value, ...edit })
const actions = (deeds: readonly Deed[]) => deeds as readonly Action[]
</script>

<template>
  <div class="branch">
    <p class="word">Where</p>
    <ConditionEdit
      :model-value="branch.conditions"
      :known="known"
      :about="about"
      in-rule
      :locked="!may"
      nothing="nothing asked: always"
      @update:model-value="set({ conditions: $event })"
    />
    <p class="word">do</p>
    <div>
      <DeedList
        :model-value="branch.actions"
        :known="known"
        :kinds="kinds"
        :about="about"
        :may="may"
        :wording="wording"
        @update:model-value="set({ actions: actions($event) })"
      />
    </div>
    <p class="word">otherwise</p>
    <div>
      <p v-if="!branch.otherwise.length" class="small quiet">nothing</p>
      <DeedList
        :model-value="branch.otherwise"
        :known="known"
        :kinds="kinds"
        :about="about"
        :may="may"
        :wording="wording"
        empty
        @update:model-value="set({ otherwise: actions($event) })"
      />
    </div>
  </div>
</template>

<style scoped>
.branch {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr);
  gap: 4px 8px;
  border-left: 2px solid var(--heather);
  padding: 4px 0 6px 10px;
  margin: 4px 0;
}
.word {
  font: 500 14px var(--display);
  color: var(--ink-2);
  padding-top: 5px;
}
@media (max-width: 700px) {
  .branch {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
