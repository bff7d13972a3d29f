<script setup lang="ts">
import { COPIES, COPY_NAMES, type Copies } from '#contract/words.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'

/** Makes a task like another, and goes to it. */
const { task } = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ done: []; go: [id: number]; close: [] }>()
const messages = useMessages()
const form = useDialogForm({
  value: {
    title: `${task.title} (copy)`.slice(0, 200),
    take: COPIES.filter(
      (take) => !['followers', 'dates', 'files'].includes(take),
    ) as readonly Copies[],
  },
  async send(body) {
    const made = await post<TaskSheet>(`/tasks/${task.id}/copy`, body)
    messages.did(`Copied as #${made.id}.`, made)
    emit('go', made.id)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="Copy the task"
    does="Copy"
    :form="form"
    :places="['title']"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.title"
      label="Title of the copy"
      :most="200"
      needed
      :fault="faultAt('title')"
    />
    <p class="label small">What goes along</p>
    <v-checkbox
      v-for="take in COPIES"
      :key="take"
      v-model="draft.take"
      :value="take"
      :label="COPY_NAMES[take]"
    />
  </FormDialog>
</template>
