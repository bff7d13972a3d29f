<script setup lang="ts">
import { computed, ref } from 'vue'
import type { TaskSheet } from '#contract/tasks.ts'
import { patch, post, remove } from '#web/api/client.ts'
import { readLine, sayLine, taskOfLine } from '#web/fields/line.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import RemoveButton from '#web/parts/RemoveButton.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import { readList } from '#core/text/read-list.ts'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useAttempt } from '#web/state/attempt.ts'

/**
 * The steps of a task: ticked, reworded, added and removed. A step has no date and nobody on it: a
 * line that says either is offered as a subtask.
 */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ took: [task: TaskSheet]; made: [] }>()
const { attempt } = useAttempt()
const messages = useMessages()
const next = ref('')
/** The step that is being reworded. */
const wording = ref<number | null>(null)

const step = (work: () => Promise<TaskSheet>): Promise<boolean> =>
  attempt(async () => emit('took', await work()))
const at = (item: number) => `/tasks/${props.task.id}/items/${item}`
const tick = (item: number, done: boolean) => step(() => patch(at(item), { done }))
async function reword(item: number, text: string): Promise<void> {
  const title = text.trim()
  if (title) await step(() => patch(at(item), { title }))
}
async function add(): Promise<void> {
  const title = next.value.trim()
  if (!title) return
  next.value = ''
  // What could not be added is not lost, unless the next is being typed already.
  if (!(await step(() => post(`/tasks/${props.task.id}/items`, { title })))) next.value ||= title
}
/** Several lines that are pasted are several steps, added as one change. */
async function paste(event: ClipboardEvent): Promise<void> {
  const titles = readList(event.clipboardData?.getData('text/plain') ?? '')
  if (titles.length < 2) return
  event.preventDefault()
  const took = (saved: TaskSheet) => {
    messages.did(`${plural(titles.length, 'step')} added.`, saved)
    return saved
  }
  const lost = !(await step(async () =>
    took(await post<TaskSheet>(`/tasks/${props.task.id}/items`, { titles })),
  ))
  if (lost) next.value ||= titles.join(' ')
}
const known = useKnown()
const line = computed(() => (next.value.trim() ? readLine(known.value, next.value) : null))
/** What the line says that a step cannot hold. */
const more = computed(() =>
  line.value && (line.value.due || line.value.people.length || line.value.estimate)
    ? sayLine(known.value, line.value).join(' · ')
    : '',
)
const makeSubtask = () =>
  attempt(async () => {
    await post('/tasks', taskOfLine(line.value!, { parentId: props.task.id }))
    next.value = ''
    emit('made')
  })
</script>

<template>
  <h4 v-if="task.may.edit || task.checklist.length" class="section">
    Checklist
    <span v-if="task.checklist.length">
      {{ task.checklist.filter((i) => i.done).length }} of {{ task.checklist.length }}
    </span>
  </h4>
  <ul class="lines">
    <li v-for="item in task.checklist" :key="item.id">
      <v-checkbox-btn
        :id="`item-${item.id}`"
        :model-value="item.done"
        :aria-label="item.title"
        @update:model-value="tick(item.id, !item.done)"
      />
      <TypeIn
        v-if="wording === item.id"
        :value="item.title"
        :label="`Wording of ${item.title}`"
        :most="200"
        autofocus
        @typed="reword(item.id, $event)"
        @left="wording = null"
      />
      <v-btn
        v-else-if="task.may.edit"
        variant="plain"
        class="fills"
        :class="{ ticked: item.done }"
        :aria-label="`Reword ${item.title}`"
        @click="wording = item.id"
      >
        {{ item.title }}
      </v-btn>
      <label v-else class="fills" :for="`item-${item.id}`" :class="{ ticked: item.done }">
        {{ item.title }}
      </label>
      <RemoveButton
        v-if="task.may.edit"
        :aria-label="`Remove ${item.title}`"
        @click="step(() => remove(at(item.id)))"
      />
    </li>
  </ul>
  <form v-if="task.may.edit" class="next" @submit.prevent="add">
    <v-text-field
      v-model="next"
      aria-label="Add to the checklist"
      placeholder="Add a step, press Enter"
      maxlength="200"
      autocomplete="off"
      @paste="paste"
      :messages="more && `${more}: a step has neither date nor person`"
    >
      <template v-if="more" #append-inner>
        <v-btn variant="text" @click="makeSubtask">Make it a subtask</v-btn>
      </template>
    </v-text-field>
  </form>
</template>

<style scoped>
.lines :deep(.v-input) {
  flex: 1;
  min-height: 27px;
  padding: 2px 6px;
  margin-left: -7px;
}
.next {
  margin-top: 6px;
}
</style>
