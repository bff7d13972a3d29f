<script setup lang="ts">
import type { TodaySheet, Waiting } from '#contract/desks.ts'
import { patch, post } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import LineMenu from '#web/parts/LineMenu.vue'

defineProps<{ view: TodaySheet }>()
const emit = defineEmits<{ open: [id: number]; changed: [] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()

const settle = (item: Waiting, state: 'done' | 'under-way') =>
  attempt(async () => {
    const task = await patch(`/tasks/${item.task.id}`, { state })
    messages.did(
      state === 'done'
        ? `“${item.task.title}” is approved and done.`
        : `“${item.task.title}” goes back.`,
      task,
    )
    if (state === 'under-way') emit('open', item.task.id)
    emit('changed')
  })
async function noted(item: Waiting): Promise<void> {
  await attempt(() => post('/notices/read', { id: item.noticeId }))
  emit('changed')
}
</script>

<template>
  <h3>Waiting on you</h3>
  <div
    v-for="item in view.waiting"
    :key="`${item.kind}-${item.task.id}-${item.noticeId}`"
    class="note"
  >
    <div class="k">
      <span>{{ item.kind === 'review' ? 'To check' : 'Escalated to you' }}</span>
      <span>{{ session.sayAt(item.at) }}</span>
    </div>
    <p>{{ item.text }}</p>
    <div class="btns">
      <template v-if="item.kind === 'review'">
        <v-btn variant="flat" @click="settle(item, 'done')">Approve</v-btn>
        <v-btn @click="settle(item, 'under-way')">Send back</v-btn>
      </template>
      <v-btn v-else @click="noted(item)">Mark as read</v-btn>
      <v-btn variant="text" @click="emit('open', item.task.id)">Open</v-btn>
    </div>
  </div>
  <p v-if="!view.waiting.length" class="quiet note">Nobody waits for you.</p>
  <template v-if="session.me?.may.member">
    <h3 class="gap">Loose ends</h3>
    <div v-for="end in view.loose" :key="end.text" class="note">
      <v-btn variant="plain" v-if="end.link" :to="end.link">
        {{ end.text }}
        <span class="auto">look</span>
      </v-btn>
      <LineMenu
        v-else
        :label="end.text"
        :lines="(end.tasks ?? []).map((t) => ({ name: t.title, run: () => emit('open', t.id) }))"
      >
        <template #default="{ props }">
          <v-btn v-bind="props" variant="plain">
            {{ end.text }}
            <span class="auto">which?</span>
          </v-btn>
        </template>
      </LineMenu>
    </div>
    <p v-if="!view.loose.length" class="quiet note">Everything has a date and an owner.</p>
  </template>
</template>

<style scoped>
h3 {
  margin-bottom: 8px;
}
.gap {
  margin-top: 18px;
}
</style>
