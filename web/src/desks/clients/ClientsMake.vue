<script setup lang="ts">
import { computed, ref } from 'vue'
import { readList } from '#core/text/read-list.ts'
import type { ClientSheet } from '#contract/clients.ts'
import { post } from '#web/api/client.ts'
import LinesField from '#web/parts/LinesField.vue'
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
    <LinesField
      v-model="lines"
      label="Clients, a line each"
      placeholder="Mossgate Veterinary Clinic"
    />
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
