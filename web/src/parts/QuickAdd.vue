<script setup lang="ts">
import { computed, ref } from 'vue'
import type { NewTask, TaskSheet } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { readLine, sayLine, seriesOfLine, taskOfLine } from '#web/fields/line.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/**
 * A line that a task is noted in where it is meant to stand; dates, people, lengths, priorities and
 * fields in it are understood and said before Enter. `begins` is what the place gives it. What was
 * typed comes back where the task could not be made.
 */
const { begins } = defineProps<{
  label: string
  placeholder: string
  begins: () => Partial<NewTask>
}>()
const emit = defineEmits<{ made: [task: TaskSheet] }>()
const session = useSession()
const messages = useMessages()
const known = useKnown()
const text = ref('')
// Lists have many such lines: nothing is read until somebody types.
const line = computed(() => (text.value.trim() ? readLine(known.value, text.value) : null))
const said = computed(() => line.value && sayLine(known.value, line.value).join(' · '))
/** Where a series of it is made, where the line says that it comes again. */
const series = computed(() =>
  line.value?.every && session.me?.may.structure ? seriesOfLine(line.value, begins()) : null,
)
async function add(): Promise<void> {
  if (line.value === null) return
  if (!line.value.title)
    return messages.fault('Say what is to be done; dates, people and lengths alone are no task.')
  const [was, task] = [text.value, taskOfLine(line.value, begins())]
  // The next can be typed while this one is on its way; what fails comes back.
  text.value = ''
  try {
    emit('made', await post<TaskSheet>('/tasks', task))
  } catch (error) {
    messages.fault(`“${task.title}” was not made. ${sentence(error)}`)
    if (text.value === '') text.value = was
  }
}
</script>

<template>
  <v-text-field
    v-model="text"
    class="quickadd seamless"
    maxlength="300"
    autocomplete="off"
    :aria-label="label"
    :placeholder="placeholder"
    :messages="said || undefined"
    @keydown.enter.prevent="add"
  >
    <template v-if="series" #append-inner>
      <v-btn variant="text" :to="series">Make it a series</v-btn>
    </template>
  </v-text-field>
</template>

<style scoped>
/* What was understood lies over what follows: lines below do not jump while somebody types. */
.quickadd :deep(.v-input__details) {
  position: absolute;
  top: 100%;
  z-index: 3;
  padding: 2px 8px 4px;
  background: var(--sheet);
  border-radius: 0 0 4px 4px;
  box-shadow: 0 4px 10px #0002;
}
.quickadd {
  flex: none;
  position: relative;
}
.quickadd :deep(.v-input__details:empty) {
  display: none;
}
</style>
