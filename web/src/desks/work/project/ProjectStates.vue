<script setup lang="ts">
import { computed } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import type { StateSetSheet } from '#contract/setup.ts'
import { put } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'

/** Which states the tasks of a project go through. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const messages = useMessages()
const { data: sets, error } = useResource<StateSetSheet[]>(
  () => '/state-sets',
  () => true,
)
const choices = computed(() =>
  (sets.value ?? []).map((set) => ({
    value: set.id,
    title: `${set.name}: ${set.states.map((state) => state.name).join(', ')}`,
  })),
)
const form = useDialogForm({
  value: { setId: project.stateSetId, copy: false },
  send: async (value) =>
    messages.did(
      'The project has these states now.',
      await put(`/projects/${project.id}/states`, value),
    ),
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft }"
    title="States of this project"
    does="Use it"
    :form="form"
    :ready="sets !== null"
    @close="emit('close')"
  >
    <div class="field">
      <label for="ps-set">A set of states</label>
      <v-select
        id="ps-set"
        v-model="draft.setId"
        :items="choices"
        :loading="sets === null && !error"
        :error-messages="error ?? ''"
      />
    </div>
    <v-checkbox
      v-model="draft.copy"
      label="A copy of it, for this project alone (changed under Set up)"
    />
    <p class="small quiet">
      Tasks go to the state of the same name, or the first of the same kind.
    </p>
  </FormDialog>
</template>
