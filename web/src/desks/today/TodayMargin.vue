<script setup lang="ts">
import type { TodaySheet, Waiting } from '#contract/desks.ts'
import { patch, post, sentence } from '#web/api/client.ts'
import { sayInstant } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

defineProps<{ view: TodaySheet }>()
const emit = defineEmits<{ open: [id: number]; changed: [] }>()
const session = useSession()
const messages = useMessages()

async function settle(item: Waiting, state: 'done' | 'under-way'): Promise<void> {
  try {
    const task = await patch(`/tasks/${item.task.id}`, { state })
    messages.did(
      state === 'done'
        ? `“${item.task.title}” is approved and done.`
        : `“${item.task.title}” goes back.`,
      task,
    )
    if (state === 'under-way') emit('open', item.task.id)
    emit('changed')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
async function noted(item: Waiting): Promise<void> {
  await post('/notices/read', { id: item.noticeId }).catch((error: unknown) =>
    messages.fault(sentence(error)),
  )
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
      <span>{{ sayInstant(item.at, session.today, session.me!.zone) }}</span>
    </div>
    <p>{{ item.text }}</p>
    <div class="btns">
      <template v-if="item.kind === 'review'">
        <button class="btn pri" @click="settle(item, 'done')">Approve</button>
        <button class="btn" @click="settle(item, 'under-way')">Send back</button>
      </template>
      <button v-else class="btn" @click="noted(item)">Noted</button>
      <button class="btn flat" @click="emit('open', item.task.id)">Open</button>
    </div>
  </div>
  <p v-if="!view.waiting.length" class="quiet note">Nobody waits for you.</p>
  <template v-if="session.me?.may.member">
    <h3 class="gap">Loose ends</h3>
    <div v-for="end in view.loose" :key="end.text" class="note">
      <router-link v-if="end.link" :to="end.link">
        {{ end.text }}
        <span class="auto">look</span>
      </router-link>
      <v-menu v-else>
        <template #activator="{ props }">
          <button v-bind="props">
            {{ end.text }}
            <span class="auto">which?</span>
          </button>
        </template>
        <div class="menu">
          <button v-for="t in end.tasks" :key="t.id" @click="emit('open', t.id)">
            {{ t.title }}
          </button>
        </div>
      </v-menu>
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
