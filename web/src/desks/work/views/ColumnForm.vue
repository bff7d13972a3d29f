<script setup lang="ts">
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { STATE_LIST } from '#web/parts/choices.ts'
import ColourField from '#web/parts/ColourField.vue'
import type { ColumnDraft } from './useColumnEdits.ts'

/** Asks what a column of a board is called and, where it is a state, its colour and kind. */
const { value, states, isNew, keep } = defineProps<{
  value: ColumnDraft
  states: boolean
  isNew: boolean
  keep: (draft: ColumnDraft) => Promise<unknown>
}>()
const emit = defineEmits<{ close: [] }>()
const form = useDialogForm<{ -readonly [K in keyof ColumnDraft]: ColumnDraft[K] }>({
  value: { ...value },
  send: keep,
  done: () => emit('close'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="isNew ? 'Add a column' : 'Change the column'"
    :does="isNew ? 'Add' : 'Save'"
    :form="form"
    :places="['name', 'states', 'phases']"
    :ready="Boolean(form.draft?.name.trim())"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.name"
      label="Name of the column"
      :most="states ? 40 : 80"
      needed
      :fault="faultAt('name') || faultAt('states') || faultAt('phases')"
    />
    <template v-if="states">
      <div class="field">
        <span class="label">Colour</span>
        <ColourField v-model="draft.colour" label="Colour" none="as its kind" />
      </div>
      <div class="field">
        <span class="label">Kind</span>
        <v-select v-model="draft.kind" aria-label="Kind" :items="STATE_LIST" />
      </div>
      <p class="small quiet">Other projects that have these states have them changed too.</p>
    </template>
  </FormDialog>
</template>
