<script setup lang="ts">
import { mdiFileOutline, mdiLinkVariant } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Attachment } from '#contract/tasks.ts'
import { call, patch, post, remove, sentence } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import Glyph from './Glyph.vue'
import RemoveButton from './RemoveButton.vue'
import FileDrop from './FileDrop.vue'
import { isPicture, isShown, leadsTo } from './file-kinds.ts'

/**
 * Files and links of a task or a project: added, looked at, taken off. `home` is the address they
 * belong to.
 */
const props = defineProps<{ files: readonly Attachment[]; home: string; may: boolean }>()
const emit = defineEmits<{ changed: []; open: [task: number] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const busy = ref(0)
const linking = ref(false)
const url = ref('')
const shown = ref<Attachment | null>(null)
const LARGEST = 25

async function upload(files: Iterable<File>): Promise<void> {
  for (const file of files) {
    if (file.size > LARGEST * 1024 * 1024) {
      messages.fault(`“${file.name}” is over ${LARGEST} MB; share a link to it instead.`)
      continue
    }
    busy.value++
    try {
      messages.did(
        `“${file.name}” is added.`,
        await call('POST', `${props.home}/files?name=${encodeURIComponent(file.name)}`, {
          bytes: file,
        }),
      )
      emit('changed')
    } catch (error) {
      messages.fault(sentence(error))
    } finally {
      busy.value--
    }
  }
}
const link = () =>
  attempt(async () => {
    await post(`${props.home}/links`, { name: '', url: url.value })
    url.value = ''
    linking.value = false
    emit('changed')
  })
const drop = (file: Attachment) =>
  attempt(async () => {
    messages.did(`“${file.name}” is taken off.`, await remove(`/files/${file.id}`))
    emit('changed')
  })
const size = (bytes: number | null) =>
  bytes === null
    ? ''
    : bytes < 1024 * 1024
      ? `${Math.max(1, Math.round(bytes / 1024))} kB`
      : `${(bytes / 1024 / 1024).toFixed(1)} MB`
/** On a task: its slip on a board shows one file at most. */
const show = (file: Attachment) =>
  attempt(async () => {
    const onBoard = !file.onBoard
    const saved = await patch(`/files/${file.id}`, { onBoard })
    const said = onBoard ? 'is shown on the board' : 'is not shown on the board any more'
    messages.did(`“${file.name}” ${said}.`, saved)
    emit('changed')
  })
const isOfTask = computed(() => props.home.startsWith('/tasks'))
</script>

<template>
  <div class="files">
    <ul v-if="files.length">
      <li v-for="f in files" :key="f.id">
        <v-btn
          variant="plain"
          v-if="isPicture(f)"
          class="thumb"
          :aria-label="`Look at ${f.name}`"
          @click="shown = f"
        >
          <img :src="`/api/v1/files/${f.id}`" alt="" loading="lazy" />
        </v-btn>
        <span v-else class="thumb"><Glyph :path="f.url ? mdiLinkVariant : mdiFileOutline" /></span>
        <span class="nm">
          <v-btn
            v-if="f.url"
            variant="plain"
            :href="leadsTo(f)"
            target="_blank"
            rel="noopener noreferrer nofollow"
          >
            {{ f.name }}
          </v-btn>
          <v-btn variant="plain" v-else-if="isShown(f)" @click="shown = f">{{ f.name }}</v-btn>
          <v-btn v-else variant="plain" :href="leadsTo(f)">{{ f.name }}</v-btn>
          <span class="small quiet">
            {{ [size(f.size), f.by?.name, session.sayAt(f.at)].filter(Boolean).join(', ') }}
            <template v-if="f.task && !isOfTask">
              ·
              <v-btn variant="plain" class="auto" @click="emit('open', f.task.id)">
                {{ f.task.title }}
              </v-btn>
            </template>
            <template v-else-if="isOfTask && session.me?.may.member">
              ·
              <v-btn variant="plain" class="auto" :aria-pressed="f.onBoard" @click="show(f)">
                {{ f.onBoard ? 'Hide on the board' : 'Show on the board' }}
              </v-btn>
            </template>
          </span>
        </span>
        <RemoveButton v-if="may" :aria-label="`Take ${f.name} off`" @click="drop(f)" />
      </li>
    </ul>
    <FileDrop
      v-if="may"
      :title="busy ? 'Sending…' : `Add files, or drop them here: ${LARGEST} MB at most`"
      label="Files to add"
      multiple
      :busy="busy > 0"
      @files="upload"
    />
    <p v-if="may" class="btns"><v-btn @click="linking = !linking">Add a link</v-btn></p>
    <form v-if="linking" class="btns" @submit.prevent="link">
      <v-text-field
        v-model="url"
        aria-label="Address of the link"
        placeholder="https://…"
        maxlength="2000"
        required
      />
      <v-btn type="submit" variant="flat">Add</v-btn>
    </form>
    <v-dialog :model-value="shown !== null" max-width="900" @update:model-value="shown = null">
      <div v-if="shown" class="dialog" role="dialog" :aria-label="shown.name">
        <h3>{{ shown.name }}</h3>
        <img
          v-if="isPicture(shown)"
          class="big"
          :src="`/api/v1/files/${shown.id}`"
          :alt="shown.name"
        />
        <iframe v-else class="big frame" :src="`/api/v1/files/${shown.id}`" :title="shown.name" />
        <p class="btns">
          <v-btn :href="`/api/v1/files/${shown.id}?save`">Save it</v-btn>
          <v-btn @click="shown = null">Close</v-btn>
        </p>
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.btns {
  margin: 6px 0 0;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 6px;
}
li {
  display: flex;
  gap: 9px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.thumb {
  width: 34px;
  height: 34px;
  flex: none;
  display: grid;
  place-items: center;
  background: var(--rest);
  border-radius: 3px;
  overflow: hidden;
  color: var(--ink-3);
}
.thumb img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.nm {
  flex: 1;
  min-width: 0;
  display: grid;
  overflow-wrap: anywhere;
}
.nm > .v-btn:hover {
  text-decoration: underline;
}
.big {
  max-width: 100%;
  max-height: 66dvh;
  display: block;
  margin-bottom: 10px;
}
.frame {
  width: 100%;
  height: 66dvh;
  border: 1px solid var(--rule);
  background: #fff;
}
form .v-input {
  width: 220px;
}
</style>
