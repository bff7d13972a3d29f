<script setup lang="ts">
import type { TaskSheet } from '#contract/tasks.ts'
import { patch } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { withNone } from '#web/parts/choices.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Puts a task, and what stands under it, into another project, or into none. */
const { task } = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()
const form = useDialogForm({
  value: { project: task.project?.id ?? 0 },
  async send({ project }) {
    const moved = await patch<TaskSheet>(`/tasks/${task.id}`, { projectId: project || null })
    messages.did(
      moved.project ? `Moved to “${moved.project.name}”.` : 'It is in no project now.',
      moved,
    )
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="To another project"
    does="Move"
    :form="form"
    :places="['projectId']"
    @close="emit('close')"
  >
    <div class="field">
      <label for="move-to">Project</label>
      <v-autocomplete
        id="move-to"
        v-model="draft.project"
        :items="withNone(session.directory.projects, 'In no project', 0)"
        :error-messages="faultAt('projectId')"
      />
    </div>
    <p class="small quiet">
      Its subtasks go along; its state becomes the one of the same name there.
    </p>
  </FormDialog>
</template>
