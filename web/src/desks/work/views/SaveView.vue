<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { SavedView, ViewDefinition } from '#contract/query.ts'
import { call, post, put, sentence } from '#web/api/client.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'

/** Keeps a way of looking under a name: private or shared, pinned or not. */
const props = defineProps<{ def: ViewDefinition; changed: boolean; saved: SavedView | null }>()
const emit = defineEmits<{ back: [] }>()
const messages = useMessages()
const views = useViews()
const session = useSession()
const router = useRouter()
const naming = ref(false)
const renaming = ref(false)
const name = ref('')
const shared = ref(false)
const wrong = ref('')

async function run(work: () => Promise<unknown>, said: string): Promise<boolean> {
  try {
    const answer = await work()
    await views.read()
    messages.did(said, answer)
    return true
  } catch (error) {
    wrong.value = sentence(error)
    messages.fault(wrong.value)
    return false
  }
}
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
  props.saved !== null && (props.saved.mine || (props.saved.shared && session.me?.may.structure))
</script>

<template>
  <span v-if="session.me?.may.member" class="btns">
    <button v-if="changed" class="btn flat" @click="emit('back')">Put back</button>
    <button v-if="changed && mine()" class="btn" @click="update">Save</button>
    <v-menu v-model="naming" :close-on-content-click="false">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="btn" @click="begin(false)">Keep as…</button>
      </template>
      <form class="menu form" @submit.prevent="keep">
        <div class="field">
          <label for="view-name">Name of the view</label>
          <input id="view-name" v-model="name" class="inp" maxlength="80" required />
        </div>
        <label class="line">
          <input v-model="shared" type="checkbox" />
          Everybody may open it
        </label>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <button class="btn pri go" type="submit" :disabled="!name.trim()">
          {{ renaming ? 'Rename' : 'Keep' }}
        </button>
      </form>
    </v-menu>
    <v-menu v-if="saved">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="btn" :aria-label="`More for the view ${saved.name}`">⋯</button>
      </template>
      <div class="menu">
        <button @click="pin">{{ saved.pinned ? 'Unpin' : 'Pin' }}</button>
        <button v-if="mine()" @click="begin(true)">Rename…</button>
        <button v-if="mine()" @click="share">
          {{ saved.shared ? 'Make private' : 'Share with everybody' }}
        </button>
        <button v-if="mine()" @click="drop">Remove</button>
      </div>
    </v-menu>
  </span>
</template>

<style scoped>
.form {
  padding: 12px;
  width: 260px;
}
.line {
  display: flex;
  gap: 6px;
  margin-bottom: 10px;
}
.menu .go {
  width: auto;
  display: inline-flex;
}
</style>
