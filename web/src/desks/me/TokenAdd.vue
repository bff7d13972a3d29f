<script setup lang="ts">
import { computed } from 'vue'
import { SCOPES } from '#contract/words.ts'
import type { MadeToken, NewToken } from '#contract/tokens.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useSession } from '#web/state/session.ts'
import { SCOPE_NAMES } from '#web/parts/scopes.ts'

/** Asks for a token: what its program is called, what it may do, for how long. */
const emit = defineEmits<{ close: []; done: [token: MadeToken] }>()
const session = useSession()
const scopes = computed(() =>
  SCOPES.filter((scope) => scope !== 'manage' || session.me?.may.structure),
)
const DAYS = [30, 90, 366].map((value) => ({
  value,
  title: value === 366 ? 'a year' : `${value} days`,
}))
let made: MadeToken | null = null
const form = useDialogForm<NewToken>({
  value: { name: '', scopes: ['read'], days: 90 },
  async send(body) {
    made = await post<MadeToken>('/tokens', body)
  },
  done: () => made && emit('done', made),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="A token for a program"
    does="Make it"
    :form="form"
    :places="['name']"
    :ready="(form.draft?.scopes.length ?? 0) > 0"
    @close="emit('close')"
  >
    <LineField
      v-model="draft.name"
      label="What the program is called"
      :most="80"
      needed
      :fault="faultAt('name')"
    />
    <fieldset>
      <legend>What it may do</legend>
      <v-checkbox
        v-for="scope in scopes"
        :key="scope"
        v-model="draft.scopes"
        :value="scope"
        :label="SCOPE_NAMES[scope]"
      />
    </fieldset>
    <div class="field">
      <label for="ta-days">For how long</label>
      <v-select id="ta-days" v-model="draft.days" :items="DAYS" />
    </div>
  </FormDialog>
</template>

<style scoped>
fieldset {
  margin-bottom: 8px;
}
</style>
