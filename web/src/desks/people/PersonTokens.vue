<script setup lang="ts">
import type { PersonPage } from '#contract/people.ts'
import type { TokenRow } from '#contract/tokens.ts'
import { remove } from '#web/api/client.ts'
import TokenRows from '#web/parts/TokenRows.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

/** By what tokens programs ask in somebody's name; a manager stops one that got out. */
const { person } = defineProps<{ person: PersonPage }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const { attempt } = useAttempt()
const stop = (token: TokenRow) =>
  attempt(async () => {
    await remove(`/people/${person.id}/tokens/${token.id}`)
    messages.say(`“${token.name}” opens nothing any more.`)
    emit('changed')
  })
</script>

<template>
  <section v-if="person.tokens.length" aria-labelledby="person-tokens">
    <h2 id="person-tokens" class="section">Tokens for programs</h2>
    <TokenRows :tokens="person.tokens" @stop="stop" />
  </section>
</template>
