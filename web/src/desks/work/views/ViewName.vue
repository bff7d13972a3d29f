<script setup lang="ts">
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'

/** Asks what a view is called, and who may open it; `keep` keeps it so. */
const { name, shared, keep } = defineProps<{
  name: string
  shared: boolean
  keep: (said: { name: string; shared: boolean }) => Promise<unknown>
}>()
const emit = defineEmits<{ close: [] }>()
const form = useDialogForm({ value: { name, shared }, send: keep, done: () => emit('close') })
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="name ? 'Rename the view' : 'Keep this view'"
    :does="name ? 'Rename' : 'Keep'"
    :form="form"
    :places="['name']"
    :ready="Boolean(form.draft?.name.trim())"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.name"
      label="Name of the view"
      :most="80"
      needed
      :fault="faultAt('name')"
    />
    <v-checkbox v-model="draft.shared" label="Everybody may open it" />
  </FormDialog>
</template>
