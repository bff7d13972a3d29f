<script setup lang="ts">
import type { FieldValue } from '#contract/fields.ts'
import type { ProjectPatch, ProjectSheet } from '#contract/projects.ts'
import { patch } from '#web/api/client.ts'
import { changedValues } from '#web/fields/own.ts'
import OwnValues from '#web/fields/OwnValues.vue'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { withNone } from '#web/parts/choices.ts'
import DateField from '#web/parts/DateField.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** What a project is called, whose it is, and the date it counts from or to. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()
const seen = project.version
const form = useDialogForm({
  value: {
    name: project.name,
    clientId: project.client?.id ?? null,
    leadId: project.lead?.id ?? null,
    anchor: project.anchor as string | null,
    category: project.category,
    fields: { ...project.fields } as Readonly<Record<number, FieldValue>>,
  },
  async send({ fields: now, ...value }) {
    const fields = changedValues(project.fields, now)
    const edit: ProjectPatch = { ...value, ...(fields && { fields }) }
    messages.did('Saved.', await patch(`/projects/${project.id}`, edit, { seen }))
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="The project"
    does="Save"
    :form="form"
    :places="['name']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name" needed :fault="faultAt('name')" />
    <div class="field">
      <label for="pe-client">Client</label>
      <v-autocomplete
        id="pe-client"
        v-model="draft.clientId"
        :items="withNone(session.directory.clients, 'none')"
      />
    </div>
    <div class="field">
      <label for="pe-lead">Lead</label>
      <v-autocomplete
        id="pe-lead"
        v-model="draft.leadId"
        :items="withNone(session.active, 'nobody')"
      />
    </div>
    <LineField
      v-model="draft.category"
      label="Category, in your own words"
      :most="60"
      :fault="faultAt('category')"
    />
    <div class="field">
      <label for="pe-date">Date it counts from or to</label>
      <DateField id="pe-date" v-model="draft.anchor" />
    </div>
    <OwnValues v-model="draft.fields" :fields="project.customFields" :fault-at="faultAt" />
  </FormDialog>
</template>
