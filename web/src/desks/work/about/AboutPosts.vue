<script setup lang="ts">
import { ref } from 'vue'
import { HEALTH_NAMES, HEALTHS, type Health } from '#contract/words.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import { post, put } from '#web/api/client.ts'
import SaidNote from '#web/parts/SaidNote.vue'
import { useDraft } from '#web/state/draft.ts'
import HealthMark from '../HealthMark.vue'
import { useProjectEdits } from './useProjectEdits.ts'
import { later } from '#web/state/later.ts'

const RichText = later(() => import('#web/parts/RichText.vue'))

/** What is said to everyone on a project, some of it as a status update. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const { home, run } = useProjectEdits(
  () => props.project,
  () => emit('changed'),
)
const said = useDraft(`post.${props.project.id}`)
const status = ref<Health | ''>('')
async function say(): Promise<void> {
  const body = { body: said.value, health: status.value || null }
  const done = status.value ? 'The status update is out.' : 'It is said.'
  if (!(await run(() => post(`${home()}/posts`, body), done))) return
  said.value = ''
  status.value = ''
}
const reword = (id: number, body: string) =>
  run(
    () => put(`${home()}/posts/${id}`, { body }),
    body.trim() ? 'It is reworded.' : 'It is taken away.',
  )
</script>

<template>
  <h2 class="section">What is said</h2>
  <form v-if="project.may.comment" class="say" @submit.prevent="say">
    <RichText
      v-model="said"
      label="Say something about the project"
      placeholder="Write to everyone on the project"
      @send="say"
    />
    <p class="btns">
      <v-select
        v-model="status"
        class="st"
        aria-label="As a status update"
        :items="[
          { value: '', title: 'a word to everyone' },
          ...(project.may.edit ? HEALTHS : []).map((h) => ({
            value: h,
            title: `status: ${HEALTH_NAMES[h]}`,
          })),
        ]"
      />
      <v-btn type="submit" variant="flat" :disabled="!said.trim()">Say it</v-btn>
    </p>
  </form>
  <SaidNote
    v-for="o in project.posts"
    :key="o.id"
    :said="o"
    label="What was said, reworded"
    :reword="(body) => reword(o.id, body)"
  >
    <HealthMark
      v-if="o.health"
      :health="{ value: o.health, reason: 'In this update.', byHand: true }"
    />
  </SaidNote>
  <p v-if="!project.posts.length" class="small quiet">Nothing yet.</p>
</template>

<style scoped>
.st {
  width: auto;
}
.say {
  display: grid;
  gap: 6px;
  margin: 6px 0;
}
</style>
