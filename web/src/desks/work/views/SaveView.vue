<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import type { SavedView, ViewDefinition } from '#contract/query.ts'
import { call, patch, post, put } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import { same, standard } from './definition.ts'
import ViewName from './ViewName.vue'

/**
 * Keeps a way of looking: under a name, private or shared, pinned or not; or as that in which a
 * project opens.
 */
const props = defineProps<{
  def: ViewDefinition
  changed: boolean
  saved: SavedView | null
  home: ProjectSheet | null
}>()
const emit = defineEmits<{ back: [] }>()
const messages = useMessages()
const { reload } = useViews()
const session = useSession()
const router = useRouter()
const naming = ref<'new' | 'again' | null>(null)
const { attempt } = useAttempt()

const done = async (work: Promise<unknown>, said: string): Promise<void> => {
  const answer = await work
  await reload()
  messages.did(said, answer)
}
const run = (work: () => Promise<unknown>, said: string) => attempt(() => done(work(), said))
async function keepAs(body: { name: string; shared: boolean }): Promise<void> {
  const made = await post<SavedView>('/views', { ...body, definition: props.def })
  await done(post(`/views/${made.id}/pin`, { on: true }), `“${body.name}” is saved and pinned.`)
  emit('back')
  await router.push(`/work/view/${made.id}`)
}
/** Changes the view, on the version that is shown. */
function change(part: Partial<Pick<SavedView, 'name' | 'shared' | 'definition'>>, said: string) {
  const { id, version, name, shared, definition } = props.saved!
  const body = { name, shared, definition, ...part }
  return done(put(`/views/${id}`, body, { seen: version }), said)
}
const rename = (body: { name: string; shared: boolean }) =>
  change(body, `It is called “${body.name}” now.`)
const update = () => attempt(() => change({ definition: props.def }, 'The view is saved.'))
function share(): Promise<boolean> {
  const shared = !props.saved!.shared
  const said = shared ? 'Everybody can open this view now.' : 'The view is private now.'
  return attempt(() => change({ shared }, said))
}
const pin = () =>
  run(
    () => post(`/views/${props.saved!.id}/pin`, { on: !props.saved!.pinned }),
    props.saved!.pinned ? 'Unpinned.' : 'Pinned beside the projects.',
  )
async function drop(): Promise<void> {
  if (
    await run(
      () => call('DELETE', `/views/${props.saved!.id}`),
      `“${props.saved!.name}” is removed.`,
    )
  )
    await router.push('/work/all')
}
const mine = () =>
  props.saved !== null &&
  (props.saved.mine || (props.saved.shared && session.me?.may.structure === true))
const open = (view: ViewDefinition | null, said: string) =>
  attempt(async () => {
    messages.did(said, await patch(`/projects/${props.home!.id}`, { view }))
  })
/** What may be done with how a project opens. */
const ofProject = computed((): (MenuLine | false)[] =>
  props.home?.may.structure
    ? [
        !same(props.def, props.home.view ?? standard(props.def.scope)) && {
          name: 'Open the project like this',
          run: () => open(props.def, 'The project opens like this for everybody.'),
        },
        props.home.view !== null && {
          name: 'Open it as any other',
          run: () => open(null, 'The project opens as any other.'),
        },
      ]
    : [],
)
const ofView = computed((): (MenuLine | false)[] => [
  { name: props.saved?.pinned ? 'Unpin' : 'Pin', run: pin },
  mine() && { name: 'Rename…', run: () => (naming.value = 'again') },
  mine() && { name: props.saved!.shared ? 'Make private' : 'Share with everybody', run: share },
  mine() && { name: 'Remove', run: drop },
])
</script>

<template>
  <span v-if="session.me?.may.member" class="btns">
    <v-btn variant="text" v-if="changed" @click="emit('back')">Drop the changes</v-btn>
    <v-btn v-if="changed && mine()" @click="update">Save</v-btn>
    <v-btn @click="naming = 'new'">Keep as…</v-btn>
    <ViewName
      v-if="naming"
      :name="naming === 'again' ? saved!.name : ''"
      :shared="naming === 'again' && saved!.shared"
      :keep="naming === 'again' ? rename : keepAs"
      @close="naming = null"
    />
    <LineMenu v-if="saved" :label="`More for the view ${saved.name}`" :lines="ofView" />
    <LineMenu
      v-else-if="ofProject.some(Boolean)"
      label="More for how the project is shown"
      :lines="ofProject"
    />
  </span>
</template>
