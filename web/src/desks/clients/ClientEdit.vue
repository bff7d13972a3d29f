<script setup lang="ts">
import type { ClientSheet } from '#contract/clients.ts'
import { TIERS } from '#contract/words.ts'
import { patch } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** What a client is called, in full and for short, and its tier. */
const props = defineProps<{ client: ClientSheet }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const messages = useMessages()
const { id, name, short, tier } = props.client
const before: Readonly<Record<string, string>> = { name, short, tier }
const ITEMS = TIERS.map((value) => ({ value, title: value }))
const form = useDialogForm({
  value: { name, short, tier },
  async send(written) {
    // What somebody else changes meanwhile in another field stands.
    const changed = Object.fromEntries(
      Object.entries(written).filter(([field, value]) => value !== before[field]),
    )
    if (Object.keys(changed).length === 0) return
    messages.did(`${written.name} is saved.`, await patch(`/clients/${id}`, changed))
    await session.refresh(true)
  },
  done: () => emit('close'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`Change ${name}`"
    does="Save"
    :form="form"
    :places="['name', 'short']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name of the client" needed :fault="faultAt('name')" />
    <LineField
      v-model="draft.short"
      label="For short, on lists and bars"
      :most="40"
      needed
      :fault="faultAt('short')"
    />
    <div class="field">
      <label for="ce-tier">Tier</label>
      <v-select id="ce-tier" v-model="draft.tier" :items="ITEMS" />
    </div>
  </FormDialog>
</template>
