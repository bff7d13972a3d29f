<script setup lang="ts">
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import { STATE_LIST } from '#web/parts/choices.ts'
import ColourField from '#web/parts/ColourField.vue'
import StateBar from '#web/parts/StateBar.vue'

/** The states of a set in their order, as they are being written; `now` is how the set stands. */
const states = defineModel<StateSetBody['states']>({ required: true })
defineProps<{ may: boolean; now: StateSetSheet['states'] }>()
function shift(index: number, by: number): void {
  const next = [...states.value]
  const [moved] = next.splice(index, 1)
  next.splice(Math.max(0, index + by), 0, moved!)
  states.value = next
}
</script>

<template>
  <v-table class="states">
    <thead>
      <tr>
        <th><span class="sr">Mark</span></th>
        <th>Name</th>
        <th>Kind</th>
        <th>Colour</th>
        <th>Who may set it</th>
        <th>Tasks</th>
        <th><span class="sr">Order</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(s, i) in states" :key="s.id ?? `n${i}`">
        <td><StateBar :state="s.kind" :colour="s.colour" :name="s.name" /></td>
        <td>
          <v-text-field
            v-model="s.name"
            maxlength="40"
            :readonly="!may"
            :aria-label="`Name of state ${i + 1}`"
          />
        </td>
        <td>
          <v-select
            v-model="s.kind"
            :disabled="!may"
            :aria-label="`Kind of ${s.name}`"
            :items="STATE_LIST"
            item-title="name"
          />
        </td>
        <td>
          <ColourField
            v-model="s.colour"
            :disabled="!may"
            :label="`Colour of ${s.name}`"
            none="as its kind"
          />
        </td>
        <td>
          <v-select
            v-model="s.only"
            :disabled="!may"
            :aria-label="`Who may set ${s.name}`"
            :items="[
              { value: 'anyone', title: 'anyone' },
              { value: 'lead', title: 'the project’s lead, managers' },
              { value: 'manager', title: 'managers' },
            ]"
          />
        </td>
        <td class="quiet">{{ now.find((x) => x.id === s.id)?.tasks ?? 0 }}</td>
        <td v-if="may" class="nw">
          <v-btn icon :aria-label="`${s.name} earlier`" @click="shift(i, -1)">↑</v-btn>
          <v-btn icon :aria-label="`${s.name} later`" @click="shift(i, 1)">↓</v-btn>
          <v-btn variant="text" @click="states = states.filter((_, n) => n !== i)">Remove</v-btn>
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.states {
  max-width: 980px;
  margin-top: 8px;
}
.states td {
  padding-block: 3px;
  vertical-align: middle;
}
.states .v-text-field {
  min-width: 150px;
}
.nw {
  white-space: nowrap;
}
@media (max-width: 900px) {
  .states .v-input {
    min-width: 110px;
  }
}
</style>
