<script setup lang="ts">
import { mdiFileOutline, mdiLinkVariant } from '@mdi/js'
import { ref } from 'vue'
import type { Attachment } from '#contract/tasks.ts'
import { call, post, remove, sentence } from '#web/api/client.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import Glyph from './Glyph.vue'
import { sayInstant } from './say.ts'
import RemoveButton from './RemoveButton.vue'

/**
 * Files and links of a task or a project: added, looked at, taken off. `home` is the address they
 * belong to.
 */
const props = defineProps<{ files: readonly Attachment[]; home: string; may: boolean }>()
const emit = defineEmits<{ changed: []; open: [task: number] }>()
const session = useSession()
const messages = useMessages()
const over = ref(false)
const busy = ref(0)
const linking = ref(false)
const url = ref('')
const shown = ref<Attachment | null>(null)
const picker = ref<HTMLInputElement | null>(null)
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
async function link(): Promise<void> {
  try {
    await post(`${props.home}/links`, { name: '', url: url.value })
    url.value = ''
    linking.value = false
    emit('changed')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
async function drop(file: Attachment): Promise<void> {
  try {
    messages.did(`“${file.name}” is taken off.`, await remove(`/files/${file.id}`))
    emit('changed')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
const size = (bytes: number | null) =>
  bytes === null
    ? ''
    : bytes < 1024 * 1024
      ? `${Math.max(1, Math.round(bytes / 1024))} kB`
      : `${(bytes / 1024 / 1024).toFixed(1)} MB`
const picture = (f: Attachment) => /^image\/(png|jpeg|gif|webp|avif)$/.test(f.type ?? '')
const previews = (f: Attachment) =>
  picture(f) || f.type === 'application/pdf' || f.type === 'text/plain' || f.type === 'text/csv'
</script>

<template>
  <div
    class="files"
    :class="{ over }"
    @dragover.prevent="over = may"
    @dragleave="over = false"
    @drop.prevent="((over = false), may && upload($event.dataTransfer?.files ?? []))"
  >
    <ul v-if="files.length">
      <li v-for="f in files" :key="f.id">
        <button
          v-if="picture(f)"
          class="thumb"
          :aria-label="`Look at ${f.name}`"
          @click="shown = f"
        >
          <img :src="`/api/v1/files/${f.id}`" alt="" loading="lazy" />
        </button>
        <span v-else class="thumb"><Glyph :path="f.url ? mdiLinkVariant : mdiFileOutline" /></span>
        <span class="nm">
          <a v-if="f.url" :href="f.url" target="_blank" rel="noopener noreferrer nofollow">
            {{ f.name }}
          </a>
          <button v-else-if="previews(f)" @click="shown = f">{{ f.name }}</button>
          <a v-else :href="`/api/v1/files/${f.id}?save`">{{ f.name }}</a>
          <span class="small quiet">
            {{
              [size(f.size), f.by?.name, sayInstant(f.at, session.today, session.me?.zone ?? 'UTC')]
                .filter(Boolean)
                .join(', ')
            }}
            <template v-if="f.task && !home.startsWith('/tasks')">
              ·
              <button class="auto" @click="emit('open', f.task.id)">{{ f.task.title }}</button>
            </template>
          </span>
        </span>
        <RemoveButton v-if="may" :aria-label="`Take ${f.name} off`" @click="drop(f)" />
      </li>
    </ul>
    <p v-if="may" class="btns">
      <button class="btn" :disabled="busy > 0" @click="picker?.click()">
        {{ busy ? 'Sending…' : 'Add a file' }}
      </button>
      <button class="btn" @click="linking = !linking">Add a link</button>
      <span class="small quiet">or drop files here, {{ LARGEST }} MB at most</span>
      <input
        ref="picker"
        type="file"
        multiple
        hidden
        aria-label="Files to add"
        @change="
          upload(($event.target as HTMLInputElement).files ?? [])
          ;($event.target as HTMLInputElement).value = ''
        "
      />
    </p>
    <form v-if="linking" class="btns" @submit.prevent="link">
      <input
        v-model="url"
        class="inp"
        aria-label="Address of the link"
        placeholder="https://…"
        maxlength="2000"
        required
      />
      <button class="btn pri">Add</button>
    </form>
    <v-dialog :model-value="shown !== null" max-width="900" @update:model-value="shown = null">
      <div v-if="shown" class="dialog" role="dialog" :aria-label="shown.name">
        <h3>{{ shown.name }}</h3>
        <img
          v-if="picture(shown)"
          class="big"
          :src="`/api/v1/files/${shown.id}`"
          :alt="shown.name"
        />
        <iframe v-else class="big frame" :src="`/api/v1/files/${shown.id}`" :title="shown.name" />
        <p class="btns">
          <a class="btn" :href="`/api/v1/files/${shown.id}?save`">Save it</a>
          <button class="btn" @click="shown = null">Close</button>
        </p>
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.files.over {
  outline: 2px dashed var(--fern);
  outline-offset: 3px;
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
.nm > a:hover,
.nm > button:hover {
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
form .inp {
  width: 220px;
}
</style>
