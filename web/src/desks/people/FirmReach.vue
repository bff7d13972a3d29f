<script setup lang="ts">
import type { FirmPatch, FirmSheet } from '#contract/firm.ts'
import { patch } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import { useForm } from '#web/forms/useForm.ts'
import { useMessages } from '#web/state/messages.ts'

/** How the firm is reached and by whom: its address, the proxies before it, codes at the door. */
const props = defineProps<{ firm: FirmSheet; owner: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const valueOf = ({ address, proxies, demandsCodes }: FirmSheet) => ({
  ...{ address: address ?? '', proxies: proxies ?? 0, demandsCodes },
})
const { draft, dirty, busy, fault, faultAt, save } = useForm({
  key: () => 'firm.reach',
  held: () => ({ value: valueOf(props.firm), version: 0 }),
  async send({ address, ...rest }) {
    const body: FirmPatch = { ...rest, address: address.trim() || null }
    const done = await patch<FirmSheet>('/firm', body)
    messages.did('How the firm is reached is saved.', done)
    emit('changed')
    return { value: valueOf(done), version: 0 }
  },
})
const PROXIES = Array.from({ length: 10 }, (_, i) => ({
  value: i,
  title: i === 0 ? 'none: nobody is believed' : String(i),
}))
</script>

<template>
  <form @submit.prevent="save()">
    <h2 class="section">
      How it is reached
      <span>{{ owner ? '' : 'an owner says this' }}</span>
    </h2>
    <p v-if="firm.told.address" class="small quiet">
      The server was told that it is opened at {{ firm.told.address }}; that goes before what stands
      here.
    </p>
    <p v-if="!owner" class="small quiet">
      {{ firm.address ? `Opened at ${firm.address}.` : 'Where it is opened was not said.' }}
      {{ firm.demandsCodes ? 'A second device is asked of all but guests.' : '' }}
    </p>
    <template v-else-if="draft">
      <LineField
        v-model="draft!.address"
        label="Address that people open; links in mails lead there"
        placeholder="https://work.example"
        :most="300"
        :fault="faultAt('address')"
      />
      <div class="field">
        <label for="fr-proxies">Proxies before it, believed about who comes</label>
        <v-select
          id="fr-proxies"
          v-model="draft!.proxies"
          :items="PROXIES"
          :disabled="firm.told.proxies > 0"
        />
      </div>
      <v-checkbox
        v-model="draft!.demandsCodes"
        label="Everybody but guests signs in with a code from a second device too"
      />
      <p v-if="fault" class="wrong" role="alert">{{ fault }}</p>
      <v-btn type="submit" :disabled="!dirty || busy">Save</v-btn>
    </template>
  </form>
</template>
