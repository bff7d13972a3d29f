<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Takes tasks out of a project into one of their own, and goes there. */
const { project, ids } = defineProps<{ project: number; ids: readonly number[] }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const form = useDialogForm({
  value: { name: '' },
  async send({ name }) {
    const made = await post<ProjectSheet>(`/projects/${project}/split`, { name, ids })
    await session.read()
    messages.did(`“${made.name}” has them now.`, made)
    await router.push(`/work/${made.id}`)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`${plural(ids.length, 'task')} into a new project`"
    does="Make it"
    :form="form"
    :places="['name']"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.name"
      label="Name of the new project"
      needed
      :fault="faultAt('name')"
    />
    <p class="small quiet">Their phases go along; client, lead and states stay the same.</p>
  </FormDialog>
</template>
