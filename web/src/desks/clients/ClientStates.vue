<script setup lang="ts">
import type { ClientState, ClientStatesBody } from '#contract/clients.ts'
import { put } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import ColourField from '#web/parts/ColourField.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { useMessages } from '#web/state/messages.ts'

/** Where clients can stand, in the firm's own words and order. */
const { states } = defineProps<{ states: readonly ClientState[] }>()
const emit = defineEmits<{ done: []; close: [] }>()
const messages = useMessages()
type Row = ClientStatesBody['states'][number]
const begun: { states: Row[] } = { states: states.map((state) => ({ ...state })) }
const form = useDialogForm({
  value: begun,
  async send(written) {
    const kept = written.states.map(({ id }) => id)
    const removed = states.map(({ id }) => id).filter((id) => !kept.includes(id))
    messages.did(
      'The states of clients are saved.',
      await put('/client-states', { states: written.states, removed }),
    )
  },
  done: () => emit('done'),
})
function shift(rows: Row[], index: number): Row[] {
  const next = [...rows]
  const [moved] = next.splice(index, 1)
  next.splice(Math.max(0, index - 1), 0, moved!)
  return next
}
/** New clients always begin somewhere. */
function without(rows: Row[], index: number): Row[] {
  const left = rows.filter((_, i) => i !== index)
  return left.some(({ first }) => first) ? left : beginIn(left, 0)
}
const beginIn = (rows: Row[], index: number) =>
  rows.map((row, i) => ({ ...row, first: i === index }))
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="States of clients"
    does="Save"
    :form="form"
    :places="(form.draft?.states ?? []).map((_, i) => `states.${i}.name`)"
    @close="emit('close')"
  >
    <p class="small quiet">The columns of the board, from left to right.</p>
    <div v-for="(state, i) in draft.states" :key="state.id ?? `new ${i}`" class="state">
      <v-text-field
        v-model="state.name"
        maxlength="40"
        required
        :aria-label="`Name of state ${i + 1}`"
        :error-messages="faultAt(`states.${i}.name`)"
      />
      <ColourField v-model="state.colour" :label="`Colour of state ${i + 1}`" />
      <v-btn
        icon
        variant="text"
        :disabled="i === 0"
        :aria-label="`Up with state ${i + 1}`"
        @click="draft.states = shift(draft.states, i)"
      >
        ↑
      </v-btn>
      <RemoveButton
        :aria-label="`Remove state ${i + 1}`"
        @click="draft.states = without(draft.states, i)"
      />
    </div>
    <v-btn variant="text" @click="draft.states.push({ name: '', colour: 'slate', first: false })">
      Add a state
    </v-btn>
    <div class="field">
      <label for="cs-first">New clients begin in</label>
      <v-select
        id="cs-first"
        :model-value="draft.states.findIndex(({ first }) => first)"
        :items="draft.states.map(({ name }, value) => ({ value, title: name || 'the new one' }))"
        @update:model-value="draft.states = beginIn(draft.states, $event)"
      />
    </div>
  </FormDialog>
</template>

<style scoped>
.v-btn--variant-text {
  align-self: flex-start;
}
.state {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: flex-start;
  margin-bottom: 6px;
}
.state > :first-child {
  flex: 1 1 150px;
}
</style>
