<script setup lang="ts">
import { PALETTE } from '#contract/fields.ts'
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import { STATE_LIST } from '#web/parts/choices.ts'
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
  <table class="plain states">
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
          <input
            v-model="s.name"
            class="inp"
            maxlength="40"
            :readonly="!may"
            :aria-label="`Name of state ${i + 1}`"
          />
        </td>
        <td>
          <select v-model="s.kind" class="inp" :disabled="!may" :aria-label="`Kind of ${s.name}`">
            <option v-for="k in STATE_LIST" :key="k.value" :value="k.value">
              {{ k.name }}
            </option>
          </select>
        </td>
        <td>
          <select
            v-model="s.colour"
            class="inp"
            :disabled="!may"
            :aria-label="`Colour of ${s.name}`"
          >
            <option :value="null">as its kind</option>
            <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
          </select>
        </td>
        <td>
          <select
            v-model="s.only"
            class="inp"
            :disabled="!may"
            :aria-label="`Who may set ${s.name}`"
          >
            <option value="anyone">anyone</option>
            <option value="lead">the project’s lead, managers</option>
            <option value="manager">managers</option>
          </select>
        </td>
        <td class="quiet">{{ now.find((x) => x.id === s.id)?.tasks ?? 0 }}</td>
        <td v-if="may" class="nw">
          <button class="x" :aria-label="`${s.name} earlier`" @click="shift(i, -1)">↑</button>
          <button class="x" :aria-label="`${s.name} later`" @click="shift(i, 1)">↓</button>
          <button class="btn flat" @click="states = states.filter((_, n) => n !== i)">
            Remove
          </button>
        </td>
      </tr>
    </tbody>
  </table>
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
.nw {
  white-space: nowrap;
}
@media (max-width: 900px) {
  .states .inp {
    min-width: 110px;
  }
}
</style>
