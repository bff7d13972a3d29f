<script setup lang="ts">
import type { TaskSheet } from '#contract/tasks.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import type { Faults } from '#web/forms/useForm.ts'
import { useMessages } from '#web/state/messages.ts'

/** Moves all of a task into another, and goes there. */
const { task } = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ done: []; go: [id: number]; close: [] }>()
const messages = useMessages()
const numberIn = (text: string) => Number(/^\s*#?(\d{1,15})\s*$/.exec(text)?.[1] ?? 0)
const form = useDialogForm({
  value: { into: '' },
  check: ({ into }): Faults =>
    numberIn(into) ? {} : { into: 'The number of a task, as it stands above its title: #214.' },
  async send({ into }) {
    const id = numberIn(into)
    const done = await post(`/tasks/${task.id}/merge`, { into: id })
    messages.did(`Merged into #${id}; this one is archived.`, done)
    emit('go', id)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="Merge into another task"
    does="Merge"
    :form="form"
    :places="['into']"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.into"
      label="Number of the other task"
      placeholder="#214"
      :fault="faultAt('into')"
    />
    <p class="small quiet">
      Comments, checklist, files, followers, tags and subtasks move over; this task is archived.
    </p>
  </FormDialog>
</template>
