<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { SavedView, ViewDefinition } from '#contract/query.ts'
import { call, post, put } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'

/** Keeps a way of looking under a name: private or shared, pinned or not. */
const props = defineProps<{ def: ViewDefinition; changed: boolean; saved: SavedView | null }>()
const emit = defineEmits<{ back: [] }>()
const messages = useMessages()
const { reload } = useViews()
const session = useSession()
const router = useRouter()
const naming = ref(false)
const renaming = ref(false)
const name = ref('')
const shared = ref(false)
const { wrong, attempt } = useAttempt('here')

const { attempt: attemptOutside } = useAttempt()

/** What goes wrong is said in the form, where it is open. */
const run = (work: () => Promise<unknown>, said: string) =>
  (naming.value ? attempt : attemptOutside)(async () => {
    const answer = await work()
    await reload()
    messages.did(said, answer)
  })
function begin(rename: boolean): void {
  renaming.value = rename
  name.value = rename ? props.saved!.name : ''
  shared.value = rename && props.saved!.shared
  wrong.value = ''
  // The button that keeps opens the form itself.
  if (rename) naming.value = true
}
async function keep(): Promise<void> {
  wrong.value = ''
  if (renaming.value) {
    const view = props.saved!
    if (
      await run(
        () =>
          put(
            `/views/${view.id}`,
            { name: name.value, shared: shared.value, definition: view.definition },
            { seen: view.version },
          ),
        `It is called “${name.value}” now.`,
      )
    )
      naming.value = false
    return
  }
  let made: SavedView | null = null
  const ok = await run(async () => {
    made = await post<SavedView>('/views', {
      name: name.value,
      shared: shared.value,
      definition: props.def,
    })
    return call('POST', `/views/${made.id}/pin`, { body: { on: true } })
  }, `“${name.value}” is saved and pinned.`)
  if (!ok || !made) return
  naming.value = false
  emit('back')
  await router.push(`/work/view/${(made as SavedView).id}`)
}
const update = () =>
  run(
    () =>
      put(
        `/views/${props.saved!.id}`,
        { name: props.saved!.name, shared: props.saved!.shared, definition: props.def },
        { seen: props.saved!.version },
      ),
    'The view is saved.',
  )
const share = () =>
  run(
    () =>
      put(
        `/views/${props.saved!.id}`,
        {
          name: props.saved!.name,
          shared: !props.saved!.shared,
          definition: props.saved!.definition,
        },
        { seen: props.saved!.version },
      ),
    props.saved!.shared ? 'The view is private now.' : 'Everybody can open this view now.',
  )
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
const more = computed((): (MenuLine | false)[] => [
  { name: props.saved?.pinned ? 'Unpin' : 'Pin', run: pin },
  mine() && { name: 'Rename…', run: () => begin(true) },
  mine() && { name: props.saved!.shared ? 'Make private' : 'Share with everybody', run: share },
  mine() && { name: 'Remove', run: drop },
])
</script>

<template>
  <span v-if="session.me?.may.member" class="btns">
    <v-btn variant="text" v-if="changed" @click="emit('back')">Put back</v-btn>
    <v-btn v-if="changed && mine()" @click="update">Save</v-btn>
    <v-menu v-model="naming" :close-on-content-click="false">
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu" @click="begin(false)">Keep as…</v-btn>
      </template>
      <form class="menu form" @submit.prevent="keep">
        <div class="field">
          <label for="view-name">Name of the view</label>
          <v-text-field id="view-name" v-model="name" maxlength="80" required />
        </div>
        <v-checkbox v-model="shared" label="Everybody may open it" />
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <v-btn variant="flat" class="go" type="submit" :disabled="!name.trim()">
          {{ renaming ? 'Rename' : 'Keep' }}
        </v-btn>
      </form>
    </v-menu>
    <LineMenu v-if="saved" :label="`More for the view ${saved.name}`" :lines="more" />
  </span>
</template>

<style scoped>
.form {
  padding: 12px;
  width: 260px;
}
.menu .go {
  width: auto;
  display: inline-flex;
}
</style>
