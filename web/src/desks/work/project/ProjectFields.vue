<script setup lang="ts">
import { computed } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import { post } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useSession } from '#web/state/session.ts'

/** Which custom fields the tasks of a project show: each is put in or out at once. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: []; close: [] }>()
const session = useSession()
const { wrong, attempt } = useAttempt('here')
const fields = computed(() =>
  session.directory.fields.filter(
    (field) =>
      field.of === 'task' &&
      !field.hidden &&
      (field.projectId === null || field.projectId === project.id) &&
      (field.templateId === null || field.templateId === project.template?.id),
  ),
)
const show = (field: number, shown: boolean) =>
  attempt(async () => {
    await post(`/fields/${field}/hide`, { projectId: project.id, hidden: !shown })
    emit('changed')
  })
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="480"
    aria-label="Fields this project shows"
    @update:model-value="emit('close')"
  >
    <div class="dialog">
      <h3>Fields this project shows</h3>
      <p v-if="!fields.length" class="quiet">No custom fields yet; they are made under Set up.</p>
      <v-checkbox
        v-for="field in fields"
        :key="field.id"
        :model-value="!project.hiddenFields.includes(field.id)"
        :label="field.name"
        @update:model-value="show(field.id, $event === true)"
      />
      <p class="small quiet">Values of a hidden field stay.</p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns"><v-btn @click="emit('close')">Close</v-btn></div>
    </div>
  </v-dialog>
</template>
