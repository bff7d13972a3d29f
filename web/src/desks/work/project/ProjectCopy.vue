<script setup lang="ts">
import { useRouter } from 'vue-router'
import { COPIES, COPY_NAMES } from '#contract/words.ts'
import type { CloneBody, ProjectSheet } from '#contract/projects.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import DateField from '#web/parts/DateField.vue'
import { useMessages } from '#web/state/messages.ts'

/** Makes a project like another, and goes to it. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const messages = useMessages()
const router = useRouter()
const TAKES = [...COPIES, 'milestones' as const]
const form = useDialogForm<CloneBody>({
  value: {
    name: `${project.name} (copy)`.slice(0, 120),
    take: TAKES.filter((take) => take !== 'followers' && take !== 'files'),
    anchor: project.anchor,
  },
  async send(body) {
    const made = await post<ProjectSheet>(`/projects/${project.id}/copy`, body)
    messages.did(`“${made.name}” is made.`, made)
    await router.push(`/work/${made.id}`)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="Copy the project"
    does="Copy"
    :form="form"
    :places="['name']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name of the copy" needed :fault="faultAt('name')" />
    <div class="field">
      <label for="pc-date">Its date; every other date keeps its distance in working days</label>
      <DateField id="pc-date" v-model="draft.anchor" />
    </div>
    <p class="small label">What goes along, besides phases and tasks</p>
    <v-checkbox
      v-for="take in TAKES"
      :key="take"
      v-model="draft.take"
      :value="take"
      :label="take === 'milestones' ? 'Milestones' : COPY_NAMES[take]"
    />
  </FormDialog>
</template>
