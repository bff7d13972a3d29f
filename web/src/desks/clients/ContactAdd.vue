<script setup lang="ts">
import type { ClientSheet } from '#contract/clients.ts'
import type { Invited } from '#contract/people.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Invites somebody of a client; they see what is handed to them, and what is shared with them. */
const { client } = defineProps<{ client: ClientSheet }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const messages = useMessages()
const form = useDialogForm({
  value: { name: '', email: '', title: '' },
  async send(written) {
    const person = { ...written, access: 'client', clientId: client.id }
    const done = await post<Invited[]>('/people', { people: [person], address: location.origin })
    messages.did(`An invitation goes to ${written.name}.`, done)
    await session.refresh(true)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`A contact of ${client.name}`"
    does="Send an invitation"
    :form="form"
    :places="['people.0.name', 'people.0.email', 'people.0.title']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name" needed :fault="faultAt('people.0.name')" />
    <LineField
      v-model="draft.email"
      label="E-mail address"
      type="email"
      :most="200"
      needed
      :fault="faultAt('people.0.email')"
    />
    <LineField
      v-model="draft.title"
      label="What they are there"
      :fault="faultAt('people.0.title')"
    />
  </FormDialog>
</template>
