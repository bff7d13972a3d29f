<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

const messages = useMessages()
const { attempt } = useAttempt()
const shown = computed({
  get: () => messages.current !== null,
  set: (on) => {
    if (!on) messages.next()
  },
})
// Each message has its own time to be read, however soon it follows another: another length begins
// the count anew.
const turn = ref(0)
watch(
  () => messages.current,
  () => turn.value++,
)
const time = computed(
  () => (messages.current?.tone === 'alarm' ? 12_000 : 9_000) + (turn.value % 2),
)
async function undo(): Promise<void> {
  const step = messages.current?.undo
  messages.next()
  await attempt(async () => {
    await step?.()
  })
}
</script>

<template>
  <v-snackbar
    v-model="shown"
    :timeout="time"
    location="bottom left"
    :transition="false"
    color="#16241f"
  >
    <span role="status">{{ messages.current?.text }}</span>
    <template #actions>
      <v-btn variant="plain" v-if="messages.current?.undo" class="act" @click="undo">Undo</v-btn>
      <v-btn variant="plain" class="act plain" @click="shown = false">Close</v-btn>
    </template>
  </v-snackbar>
</template>

<style scoped>
.act {
  color: #e6b422;
  font-weight: 600;
  padding: 4px 8px;
}
.plain {
  color: #cfd6cf;
}
</style>
