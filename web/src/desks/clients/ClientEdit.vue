<script setup lang="ts">
import { computed } from 'vue'
import { isGuestAccess } from '#core/access/reach.ts'
import type { ClientPage, ClientPatch } from '#contract/clients.ts'
import type { FieldValue } from '#contract/fields.ts'
import { CLIENT_KINDS, TIERS } from '#contract/words.ts'
import { patch } from '#web/api/client.ts'
import { changedValues } from '#web/fields/own.ts'
import OwnValues from '#web/fields/OwnValues.vue'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { changedIn } from '#web/forms/merge.ts'
import TextField from '#web/forms/TextField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { withNone } from '#web/parts/choices.ts'
import SeveralField from '#web/parts/SeveralField.vue'
import { toggled } from '#web/parts/task/edits.ts'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useClientList } from './useClientList.ts'

/** What a client is called, how it is reached, who looks after it and usually does what for it. */
const props = defineProps<{ client: ClientPage }>()
const list = useClientList()
const states = computed(() => list.data.value?.states ?? [])
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const messages = useMessages()
const { id, name, short, tier, kind, email, phone, website, address, notes } = props.client
const before = {
  ...{ name, short, tier, kind, email, phone, website, address, notes },
  leadId: props.client.lead?.id ?? null,
  stateId: props.client.state?.id ?? null,
  tags: props.client.tags.map((tag) => tag.id),
  fields: { ...props.client.fields } as Readonly<Record<number, FieldValue>>,
  usual: props.client.usual.map(({ role, personId }) => ({ role, personId })),
}
const inside = computed(() => session.active.filter(({ access }) => !isGuestAccess(access)))
const form = useDialogForm({
  value: before,
  async send(written) {
    const { stateId, fields: _, ...others } = changedIn(before, written)
    const fields = changedValues(before.fields, written.fields)
    const changed: ClientPatch = {
      ...others,
      ...(stateId && { stateId }),
      ...(fields && { fields }),
    }
    if (Object.keys(changed).length === 0) return
    messages.did(`${written.name} is saved.`, await patch(`/clients/${id}`, changed))
    await session.refresh(true)
  },
  done: () => emit('close'),
})
const first = computed(() => inside.value[0]?.id ?? 0)
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="`Change ${name}`"
    does="Save"
    :form="form"
    :places="[
      'name',
      'short',
      'stateId',
      'email',
      'phone',
      'website',
      'address',
      'notes',
      'leadId',
      'usual',
    ]"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name of the client" needed :fault="faultAt('name')" />
    <div class="two">
      <LineField
        v-model="draft.short"
        label="For short, on lists and bars"
        :most="40"
        needed
        :fault="faultAt('short')"
      />
      <div class="field">
        <label for="ce-tier">Tier</label>
        <v-select id="ce-tier" v-model="draft.tier" :items="TIERS" />
      </div>
      <div class="field">
        <label for="ce-state">State</label>
        <v-select
          id="ce-state"
          v-model="draft.stateId"
          :items="states.map(({ id: value, name: title }) => ({ value, title }))"
          :error-messages="faultAt('stateId')"
        />
      </div>
      <div class="field">
        <label for="ce-kind">It is</label>
        <v-select
          id="ce-kind"
          v-model="draft.kind"
          :items="
            CLIENT_KINDS.map((value) => ({
              value,
              title: value === 'person' ? 'a person' : 'an organisation',
            }))
          "
        />
      </div>
      <div class="field">
        <label for="ce-lead">Who looks after it</label>
        <v-autocomplete
          id="ce-lead"
          v-model="draft.leadId"
          :items="withNone(inside, 'nobody')"
          :error-messages="faultAt('leadId')"
        />
      </div>
      <LineField
        v-model="draft.email"
        label="E-mail address"
        :most="200"
        :fault="faultAt('email')"
      />
      <LineField v-model="draft.phone" label="Telephone" :most="60" :fault="faultAt('phone')" />
    </div>
    <LineField v-model="draft.website" label="Website" :most="300" :fault="faultAt('website')" />
    <TextField
      v-model="draft.address"
      label="Address"
      :most="500"
      :rows="2"
      :fault="faultAt('address')"
    />
    <div class="field">
      <label for="ce-tags">Tags</label>
      <SeveralField
        id="ce-tags"
        label="Tags"
        to="tag"
        none="none"
        :chosen="draft.tags"
        :items="session.directory.tags"
        @toggle="draft.tags = toggled(draft.tags, $event)"
      />
    </div>
    <OwnValues v-model="draft.fields" :fields="client.customFields" :fault-at="faultAt" />
    <TextField v-model="draft.notes" label="Notes" :fault="faultAt('notes')" />
    <fieldset>
      <legend>Who usually does what for it: proposed for roles of that name</legend>
      <div v-for="(one, i) in draft.usual" :key="i" class="usual">
        <LineField
          v-model="one.role"
          :label="`Role ${i + 1}`"
          :most="80"
          needed
          :fault="faultAt(`usual.${i}.role`)"
        />
        <div class="field">
          <label :for="`ce-usual-${i}`">Usual person {{ i + 1 }}</label>
          <v-autocomplete
            :id="`ce-usual-${i}`"
            v-model="one.personId"
            :items="session.active.map((p) => ({ value: p.id, title: p.name }))"
            :error-messages="faultAt(`usual.${i}.personId`)"
          />
        </div>
        <RemoveButton
          :aria-label="`Take out role ${i + 1}`"
          @click="draft.usual = draft.usual.filter((_, nth) => nth !== i)"
        />
      </div>
      <v-btn variant="text" @click="draft.usual.push({ role: '', personId: first })">
        Add a role
      </v-btn>
    </fieldset>
  </FormDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
  gap: 0 12px;
}
fieldset {
  margin-bottom: 10px;
}
legend {
  padding: 0;
  font-weight: 600;
  font-size: 12px;
}
.usual {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 0 10px;
  align-items: start;
}
.usual > :last-child {
  margin-top: 20px;
}
</style>
