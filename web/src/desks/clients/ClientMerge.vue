<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { ClientPage } from '#contract/clients.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import type { Faults } from '#web/forms/useForm.ts'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Puts a client into another that is the same. */
const { client, other } = defineProps<{ client: ClientPage; other: number | null }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const others = computed(() =>
  session.directory.clients
    .filter(({ id }) => id !== client.id)
    .map(({ id, name }) => ({ value: id, title: name })),
)
const goes = [
  plural(client.projects.length, 'running project'),
  `${client.series.length} series`,
  plural(client.contacts.length, 'contact'),
].join(', ')
const form = useDialogForm({
  value: { into: other },
  check: ({ into }): Faults => (into === null ? { into: 'Choose the client that it is.' } : {}),
  async send({ into }) {
    const done = await post<ClientPage>(`/clients/${client.id}/merge`, { into })
    messages.did(`${client.name} is part of ${done.name} now.`, done)
    await session.refresh(true)
    await router.replace(`/clients/${into}`)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`Merge ${client.name} into another`"
    does="Merge them"
    :form="form"
    :places="['into']"
    @close="emit('close')"
  >
    <p>
      {{ goes }} and all else that is done for it go over, finished work too. What the other does
      not say of itself is taken from here. One undo.
    </p>
    <div class="field">
      <label for="cm-into">The client that it is</label>
      <v-autocomplete
        id="cm-into"
        v-model="draft.into"
        :items="others"
        :error-messages="faultAt('into')"
      />
    </div>
  </FormDialog>
</template>
