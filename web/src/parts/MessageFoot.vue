<script setup lang="ts">
import { mdiAlertOutline } from '@mdi/js'
import { useElementHover, useFocusWithin } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { underWay } from '#web/api/under-way.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import Glyph from './Glyph.vue'

/**
 * Messages at the foot of the page. The regions stand there before anything is said, so that screen
 * readers say it wherever the focus is; what went wrong is an alert. A message goes by itself, but
 * not while the pointer or the focus is on it.
 */
const TIME = { plain: 9_000, alarm: 12_000 }
const messages = useMessages()
const { attempt } = useAttempt()
const foot = ref<HTMLElement | null>(null)
const hovered = useElementHover(foot)
const { focused } = useFocusWithin(foot)
let going = 0
watch(
  [() => messages.current, hovered, focused],
  ([message, ...held]) => {
    clearTimeout(going)
    if (message && !held.includes(true))
      going = window.setTimeout(messages.next, TIME[message.tone])
  },
  { immediate: true },
)
const regions = computed(() =>
  (['plain', 'alarm'] as const).map((tone) => ({
    role: tone === 'plain' ? 'status' : 'alert',
    tone,
    message: messages.current?.tone === tone ? messages.current : null,
  })),
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
  <div ref="foot" class="foot" :class="{ raised: underWay.length > 0 }">
    <div v-for="{ role, tone, message } in regions" :key="role" :role="role">
      <v-sheet v-if="message" class="message" :class="tone">
        <Glyph v-if="tone === 'alarm'" :path="mdiAlertOutline" />
        <span class="text">{{ message.text }}</span>
        <v-btn v-if="message.undo" variant="plain" class="act" data-tip="Ctrl+Z" @click="undo">
          Undo
        </v-btn>
        <v-btn variant="plain" class="act" @click="messages.next">Close</v-btn>
      </v-sheet>
    </div>
  </div>
</template>

<style scoped>
.foot {
  position: fixed;
  left: 12px;
  bottom: 12px;
  z-index: 3000;
  max-width: min(640px, calc(100vw - 24px));
}
/* Above what says how far something has come. */
.raised {
  bottom: 96px;
}
.message {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 10px 8px 10px 14px;
  border-radius: 4px;
  background: #16241f;
  color: #fff;
  box-shadow: 0 6px 24px #0005;
}
.alarm {
  background: #8f1f2d;
}
.text {
  flex: 1;
  overflow-wrap: anywhere;
}
.act {
  color: #e6b422;
  font-weight: 600;
  padding: 4px 8px;
}
.act + .act {
  color: #cfd6cf;
}
.alarm .act {
  color: #fff;
}
@media print {
  .foot {
    display: none;
  }
}
</style>
