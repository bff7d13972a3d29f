<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { TaskSheet } from '#contract/tasks.ts'
import { patch } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import TaskCopy from './TaskCopy.vue'
import TaskMerge from './TaskMerge.vue'
import TaskMove from './TaskMove.vue'

/** What can be done with a whole task: copy, move, merge, archive, print, link. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ changed: []; go: [id: number] }>()
const messages = useMessages()
const session = useSession()
const { attempt } = useAttempt()
const router = useRouter()
const DIALOGS = { copy: TaskCopy, move: TaskMove, merge: TaskMerge }
const asking = ref<keyof typeof DIALOGS | null>(null)
const ask = (what: keyof typeof DIALOGS) => () => void (asking.value = what)
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
  session.me?.may.member === true && {
    name: 'See who sees this',
    to: `/who-sees/task/${props.task.id}`,
  },
  session.me?.may.member === true && {
    name: 'Its runs',
    to: `/clockwork/log?task=${props.task.id}`,
  },
  session.me?.may.member === true && {
    name: 'Ask why nothing happened',
    to: `/clockwork/why?task=${props.task.id}`,
  },
  ...(props.task.may.give
    ? [
        { name: 'Copy…', run: ask('copy') },
        { name: 'To another project…', run: ask('move') },
        { name: 'Merge into…', run: ask('merge') },
        { name: 'Mark as reviewed', run: review },
        { name: props.task.archivedAt === null ? 'Archive' : 'Bring back', run: archive },
      ]
    : []),
])
</script>

<template>
  <LineMenu label="More for this task" :lines="lines" />
  <component
    :is="DIALOGS[asking]"
    v-if="asking"
    :task="task"
    @go="emit('go', $event)"
    @done="((asking = null), emit('changed'))"
    @close="asking = null"
  />
</template>
