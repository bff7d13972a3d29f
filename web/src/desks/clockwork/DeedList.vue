<script setup lang="ts">
import { isBranch } from '#core/rules/program.ts'
import type { About, ActionKind } from '#contract/actions/action.ts'
import { blankOf, type Action } from '#contract/actions/index.ts'
import { tell } from '#contract/actions/tell.ts'
import type { Deed } from '#contract/rules.ts'
import type { Known } from '#web/fields/known.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import BranchEdit from './BranchEdit.vue'
import StepEdit from './StepEdit.vue'

/** What is done, one after the other; with `branches`, some of it under conditions of its own. */
const deeds = defineModel<readonly Deed[]>({ required: true })
const props = defineProps<{
  known: Known
  kinds: readonly ActionKind[]
  about: About
  may: boolean
  branches?: boolean
  /** There may be nothing. */
  empty?: boolean
  /** What is said where nothing was written yet, instead of the kind's own. */
  wording?: string
}>()
const set = (index: number, ...next: readonly Deed[]) =>
  (deeds.value = deeds.value.flatMap((deed, i) => (i === index ? next : [deed])))
function swap(from: number, to: number): void {
  const next = [...deeds.value]
  ;[next[from], next[to]] = [next[to]!, next[from]!]
  deeds.value = next
}
const more = (): Action => ({
  ...blankOf(tell as ActionKind, props.about),
  ...(props.wording !== undefined && { text: props.wording }),
})
const branch = (): Deed => ({
  kind: 'branch',
  conditions: { match: 'all', of: [] },
  actions: [more()],
  otherwise: [],
})
/** As many as a rule does one after the other. */
const MOST = 10
const full = () => deeds.value.length >= MOST
const lines = (index: number, deed: Deed) => [
  index > 0 && { name: 'Up', run: () => swap(index, index - 1) },
  index < deeds.value.length - 1 && { name: 'Down', run: () => swap(index, index + 1) },
  !full() && { name: 'Copy', run: () => set(index, deed, deed) },
  (props.empty || deeds.value.length > 1) && { name: 'Remove', run: () => set(index) },
]
const isAction = (deed: Deed): deed is Action => !isBranch<Action>(deed)
</script>

<template>
  <div v-for="(deed, i) in deeds" :key="i" class="deed">
    <StepEdit
      v-if="isAction(deed)"
      :model-value="deed"
      :kinds="kinds"
      label="Action"
      :known="known"
      :about="about"
      :locked="!may"
      :wording="wording"
      @update:model-value="set(i, $event)"
    />
    <BranchEdit
      v-else
      :model-value="deed"
      :known="known"
      :kinds="kinds"
      :about="about"
      :may="may"
      :wording="wording"
      @update:model-value="set(i, $event)"
    />
    <LineMenu v-if="may" :label="`Step ${i + 1}`" :lines="lines(i, deed)">
      <template #default="{ props: menu }">
        <v-btn v-bind="menu" variant="text" :aria-label="`Step ${i + 1}`">⋯</v-btn>
      </template>
    </LineMenu>
  </div>
  <p v-if="may && !full()" class="btns">
    <v-btn variant="text" class="small" @click="deeds = [...deeds, more()]">Also do</v-btn>
    <v-btn v-if="branches" variant="text" class="small" @click="deeds = [...deeds, branch()]">
      Also do where…
    </v-btn>
  </p>
</template>

<style scoped>
.deed {
  display: flex;
  gap: 6px;
  align-items: flex-start;
  padding: 1px 0;
}
.deed > :first-child {
  flex: 0 1 auto;
  min-width: 0;
}
</style>
