<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ActivityRow, TaskSheet } from '#contract/tasks.ts'
import { post, put } from '#web/api/client.ts'
import SaidNote from '#web/parts/SaidNote.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useDraft } from '#web/state/draft.ts'
import { useSession } from '#web/state/session.ts'
import { later } from '#web/state/later.ts'

const RichText = later(() => import('#web/parts/RichText.vue'))

/** What is said on a task, and what was done to it. */
const props = defineProps<{
  task: TaskSheet
  activity: readonly ActivityRow[]
  /** Who can be named in what is written. */
  around: readonly { id: number; name: string }[]
}>()
const emit = defineEmits<{ took: [task: TaskSheet] }>()
const session = useSession()
const { attempt } = useAttempt()
const tab = ref<'talk' | 'journal'>('talk')
const comment = useDraft(`comment.${props.task.id}`)

const at = computed(() => `/tasks/${props.task.id}/comments`)
const step = (work: () => Promise<TaskSheet>): Promise<boolean> =>
  attempt(async () => emit('took', await work()))
async function say(): Promise<void> {
  const body = comment.value.trim()
  if (body && (await step(() => post(at.value, { body })))) comment.value = ''
}
const when = (instant: number) => session.sayAt(instant)
</script>

<template>
  <v-tabs v-model="tab" class="tabs">
    <v-tab value="talk">Comments {{ task.discussion.length || '' }}</v-tab>
    <v-tab value="journal">Journal</v-tab>
  </v-tabs>
  <template v-if="tab === 'talk'">
    <SaidNote
      v-for="said in task.discussion"
      :key="said.id"
      :said="said"
      label="Comment, reworded"
      :around="around"
      :reword="(body) => step(() => put(`${at}/${said.id}`, { body }))"
    />
    <form v-if="task.may.comment" class="say" @submit.prevent="say">
      <RichText
        v-model="comment"
        :around="around"
        label="Comment"
        placeholder="Write to everyone on this task; @ mentions someone"
        @send="say"
      />
      <v-btn type="submit" :disabled="!comment.trim()">Comment</v-btn>
    </form>
  </template>
  <template v-else>
    <div v-for="each in activity" :key="each.id" class="note act">
      <div class="k">
        <span :class="{ auto: each.automatic }">{{ each.who }}</span>
        <span>{{ when(each.at) }}</span>
      </div>
      <p>{{ each.text }}</p>
    </div>
  </template>
</template>

<style scoped>
.tabs {
  margin: 16px 0 2px;
}
.say {
  display: grid;
  gap: 6px;
  justify-items: stretch;
  margin-top: 6px;
}
.say .v-btn {
  justify-self: start;
}
.act {
  padding: 6px 0;
}
.act p {
  margin: 0;
}
</style>
