<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { COPIES, COPY_NAMES, type Copies } from '#contract/words.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { patch, post, sentence } from '#web/api/client.ts'
import { withNone } from '#web/parts/choices.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'

/** What can be done with a whole task: copy, move, merge, archive, print, link. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ changed: []; go: [id: number] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const router = useRouter()
const doing = ref<'copy' | 'move' | 'merge' | null>(null)
const title = ref('')
const take = ref<Copies[]>([])
const project = ref(0)
const into = ref('')
const wrong = ref('')

function begin(what: 'copy' | 'move' | 'merge'): void {
  doing.value = what
  wrong.value = ''
  title.value = `${props.task.title} (copy)`.slice(0, 200)
  take.value = ['description', 'assignees', 'tags', 'fields', 'checklist', 'subtasks']
  project.value = props.task.project?.id ?? 0
  into.value = ''
}
async function run(): Promise<void> {
  wrong.value = ''
  try {
    if (doing.value === 'copy') {
      const made = await post<TaskSheet>(`/tasks/${props.task.id}/copy`, {
        title: title.value,
        take: take.value,
      })
      messages.did(`Copied as #${made.id}.`, made)
      emit('go', made.id)
    } else if (doing.value === 'move') {
      const moved = await patch<TaskSheet>(`/tasks/${props.task.id}`, {
        projectId: project.value || null,
      })
      messages.did(
        moved.project ? `Moved to “${moved.project.name}”.` : 'It is in no project now.',
        moved,
      )
    } else {
      const id = Number(into.value.replace(/\D/g, ''))
      const done = await post(`/tasks/${props.task.id}/merge`, { into: id })
      messages.did(`Merged into #${id}; this one is archived.`, done)
      emit('go', id)
    }
    doing.value = null
    emit('changed')
  } catch (error) {
    wrong.value = sentence(error)
  }
}
const review = () =>
  attempt(async () => {
    messages.did(
      `“${props.task.title}” is reviewed.`,
      await patch(`/tasks/${props.task.id}`, { reviewed: true }),
    )
    emit('changed')
  })
const archive = () =>
  attempt(async () => {
    const on = props.task.archivedAt === null
    messages.did(
      on ? `“${props.task.title}” is archived.` : `“${props.task.title}” is back.`,
      await patch(`/tasks/${props.task.id}`, { archived: on }),
    )
    emit('changed')
  })
async function copyLink(): Promise<void> {
  const address = `${location.origin}/task/${props.task.id}`
  try {
    await navigator.clipboard.writeText(address)
    messages.say(`${address} is copied.`)
  } catch {
    messages.say(`The link is ${address}`)
  }
}
const print = () => window.open(router.resolve(`/print/task/${props.task.id}`).href, '_blank')
const lines = computed((): (MenuLine | false)[] => [
  { name: 'Copy the link', run: copyLink },
  { name: 'Print', run: print },
  ...(props.task.may.edit
    ? [
        { name: 'Copy…', run: () => begin('copy') },
        { name: 'To another project…', run: () => begin('move') },
        { name: 'Merge into…', run: () => begin('merge') },
        { name: 'Mark as reviewed', run: review },
        { name: props.task.archivedAt === null ? 'Archive' : 'Bring back', run: archive },
      ]
    : []),
])
</script>

<template>
  <LineMenu label="More for this task" :lines="lines" />
  <v-dialog :model-value="doing !== null" max-width="440" @update:model-value="doing = null">
    <form v-if="doing" class="dialog" @submit.prevent="run">
      <template v-if="doing === 'copy'">
        <h3>Copy the task</h3>
        <div class="field">
          <label for="copy-title">Title of the copy</label>
          <v-text-field id="copy-title" v-model="title" maxlength="200" required />
        </div>
        <p class="label small">What goes along</p>
        <v-checkbox v-for="c in COPIES" :key="c" v-model="take" :value="c" :label="COPY_NAMES[c]" />
      </template>
      <template v-else-if="doing === 'move'">
        <h3>To another project</h3>
        <div class="field">
          <label for="move-to">Project</label>
          <v-autocomplete
            id="move-to"
            v-model="project"
            :items="withNone(session.directory.projects, 'In no project', 0)"
          />
        </div>
        <p class="small quiet">
          Its subtasks go along; its state becomes the one of the same name there.
        </p>
      </template>
      <template v-else>
        <h3>Merge into another task</h3>
        <div class="field">
          <label for="merge-into">Number of the other task</label>
          <v-text-field
            id="merge-into"
            v-model="into"
            placeholder="#214"
            required
            pattern="#?\d+"
          />
        </div>
        <p class="small quiet">
          Comments, checklist, files, followers, tags and subtasks move over; this task is archived.
        </p>
      </template>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <v-btn variant="flat" type="submit">
          {{ { copy: 'Copy', move: 'Move', merge: 'Merge' }[doing] }}
        </v-btn>
        <v-btn @click="doing = null">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.btns {
  margin-top: 12px;
}
</style>
