<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Moves all of a project into another, and goes there. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const form = useDialogForm({
  value: { into: null as number | null },
  async send({ into }) {
    const done = await post(`/projects/${project.id}/merge`, { into })
    messages.did('Merged; what was left of this project is archived.', done)
    await router.push(`/work/${into}`)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="Merge into another project"
    does="Merge"
    :form="form"
    :places="['into']"
    :ready="form.draft?.into != null"
    @close="emit('close')"
  >
    <p>
      Tasks, milestones, what was said and what is filed move over; phases of one name become one.
      This project is archived.
    </p>
    <div class="field">
      <label for="pm-into">Into</label>
      <v-autocomplete
        id="pm-into"
        v-model="draft.into"
        :items="session.directory.projects.filter((x) => x.id !== project.id)"
        item-value="id"
        item-title="name"
        :error-messages="faultAt('into')"
      />
    </div>
  </FormDialog>
</template>
