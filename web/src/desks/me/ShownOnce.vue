<script setup lang="ts">
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

/** A secret that is shown this once, to be copied to where it is used. */
const { secret, what } = defineProps<{
  secret: string
  /** What it is called: “token”. */
  what: string
}>()
const emit = defineEmits<{ kept: [] }>()
const messages = useMessages()
const { attempt } = useAttempt()
const copy = () =>
  attempt(async () => {
    await navigator.clipboard.writeText(secret)
    messages.say(`The ${what} is on the clipboard.`)
  })
</script>

<template>
  <p><slot /></p>
  <p class="secret">{{ secret }}</p>
  <p class="btns">
    <v-btn @click="copy">Copy the {{ what }}</v-btn>
    <v-btn @click="emit('kept')">Done, it is kept</v-btn>
  </p>
</template>

<style scoped>
.secret {
  font-family: var(--mono, monospace);
  font-size: 14px;
  overflow-wrap: anywhere;
}
.btns {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 6px 0 10px;
}
</style>
