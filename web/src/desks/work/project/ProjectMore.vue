<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import type { ProjectState } from '#contract/words.ts'
import { patch } from '#web/api/client.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import ProjectCopy from './ProjectCopy.vue'
import ProjectEdit from './ProjectEdit.vue'
import ProjectFields from './ProjectFields.vue'
import ProjectResume from './ProjectResume.vue'
import ProjectMerge from './ProjectMerge.vue'
import ProjectStates from './ProjectStates.vue'

/**
 * What can be done with a whole project: copy, finish, archive, merge, its name and people, its
 * states and fields.
 */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const DIALOGS = {
  edit: ProjectEdit,
  copy: ProjectCopy,
  merge: ProjectMerge,
  states: ProjectStates,
  fields: ProjectFields,
  resume: ProjectResume,
}
const asking = ref<keyof typeof DIALOGS | null>(null)
async function done(): Promise<void> {
  asking.value = null
  await session.read()
  emit('changed')
}
const toggle = (field: 'archived' | 'closed', on: boolean, said: string) =>
  attempt(async () => {
    const { id, version } = props.project
    messages.did(said, await patch(`/projects/${id}`, { [field]: on }, { seen: version }))
    await done()
  })
const setState = (state: ProjectState, said: string) =>
  attempt(async () => {
    const { id, version } = props.project
    messages.did(said, await patch(`/projects/${id}`, { state }, { seen: version }))
    await done()
  })
/** What becomes of it while it is not finished. */
function stateLines(): (MenuLine | false)[] {
  const { state, closedAt, may } = props.project
  if (!may.structure || closedAt !== null) return []
  return [
    state === 'proposed' && {
      name: 'Run it',
      run: () => setState('running', 'The project runs.'),
    },
    state === 'hold' && { name: 'Resume…', run: () => void (asking.value = 'resume') },
    state === 'running' && {
      name: 'Hold',
      hint: 'it stands still: nobody is reminded',
      run: () => setState('hold', 'The project is on hold.'),
    },
  ]
}
const lines = computed((): (MenuLine | false)[] => {
  const { closedAt, archivedAt, id, may } = props.project
  const ask = (what: keyof typeof DIALOGS) => () => void (asking.value = what)
  return [
    may.structure && { name: 'Name, client, lead, date…', run: ask('edit') },
    may.edit && { name: 'Copy…', run: ask('copy') },
    { name: 'See who sees it', to: `/who-sees/project/${id}` },
    { name: 'Its runs', to: { path: '/clockwork/log', query: { project: id } } },
    { name: 'Its calendar elsewhere', to: { path: '/me', query: { feed: 'project', item: id } } },
    { name: 'Its journal', to: { path: '/work/journal', query: { project: id } } },
    ...stateLines(),
    may.structure &&
      (closedAt === null
        ? { name: 'Finish', run: () => toggle('closed', true, 'The project is finished.') }
        : { name: 'Run again', run: () => toggle('closed', false, 'The project runs again.') }),
    may.structure &&
      (archivedAt === null
        ? { name: 'Archive', run: () => toggle('archived', true, 'The project is archived.') }
        : { name: 'Bring back', run: () => toggle('archived', false, 'The project is back.') }),
    may.structure && { name: 'Merge into another…', run: ask('merge') },
    ...(session.me?.may.structure
      ? [
          { name: 'States…', run: ask('states') },
          { name: 'Fields…', run: ask('fields') },
        ]
      : []),
  ]
})
</script>

<template>
  <LineMenu label="More for this project" :lines="lines" />
  <component
    :is="DIALOGS[asking]"
    v-if="asking"
    :project="project"
    @changed="emit('changed')"
    @done="done"
    @close="asking = null"
  />
</template>
