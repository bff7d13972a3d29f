<script setup lang="ts">
import { computed, ref } from 'vue'
import { readList } from '#core/text/read-list.ts'
import type { ClientSheet } from '#contract/clients.ts'
import { post } from '#web/api/client.ts'
import FileDrop from '#web/parts/FileDrop.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Makes clients: a line each, typed, pasted or from a file. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const lines = ref('')
/** A client for each line: what stands before the first comma or tab. */
const names = computed(() => [
  ...new Set(
    readList(lines.value)
      .map((line) => line.split(/[,;\t]/)[0]!.trim())
      .filter(Boolean),
  ),
])
async function take(files: Iterable<File>): Promise<void> {
  for (const file of files) lines.value = `${lines.value}\n${await file.text()}`.trim()
}
const make = () =>
  attempt(async () => {
    const clients = names.value.map((name) => ({ name: name.slice(0, 120) }))
    const made = await post<ClientSheet[]>('/clients', { clients })
    lines.value = ''
    messages.did(`${plural(made.length, 'client')} made.`, made)
    await session.refresh(true)
  })
</script>

<template>
  <form @submit.prevent="make">
    <div class="field">
      <label for="cm-lines">Clients, a line each</label>
      <v-textarea
        id="cm-lines"
        v-model="lines"
        rows="3"
        placeholder="Mossgate Veterinary Clinic"
        maxlength="60000"
      />
    </div>
    <FileDrop title="Or a CSV file with a client on each line" label="CSV file" @files="take" />
    <v-btn type="submit" class="go" :disabled="!names.length">
      {{ names.length ? `Make ${plural(names.length, 'client')}` : 'Make clients' }}
    </v-btn>
  </form>
</template>

<style scoped>
form {
  max-width: 560px;
}
.go {
  margin-top: 8px;
}
</style>
