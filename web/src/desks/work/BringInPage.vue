<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { call, post, sentence } from '#web/api/client.ts'
import MarginPane from '#web/parts/MarginPane.vue'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { guessed, meanings, readRows, type Rows } from './bring-in.ts'
import ColumnMeanings from './ColumnMeanings.vue'
import WorkNav from './WorkNav.vue'
import { withNone } from '#web/parts/choices.ts'
import FileDrop from '#web/parts/FileDrop.vue'

/**
 * Tasks from a CSV file or a workbook: what each column means, what it becomes, what cannot be
 * read, by line.
 */
const session = useSession()
const messages = useMessages()
const router = useRouter()
const file = ref<Rows | null>(null)
const wrong = ref('')
const busy = ref(false)
const into = ref<number | 'new' | 'none'>('new')
const name = ref('')
const clientId = ref<number | null>(null)
const mapping = ref<string[]>([])
const known = useKnown(() =>
  typeof into.value === 'number' ? { of: 'project', id: into.value } : { of: 'firm' },
)
const fields = computed(() => meanings(known.value))
async function choose(chosen: File | undefined): Promise<void> {
  if (!chosen) return
  wrong.value = ''
  busy.value = true
  try {
    file.value = await call<Rows>('POST', '/tasks/read', { bytes: chosen, asks: true })
    name.value = chosen.name.replace(/\.[a-z0-9]+$/i, '').slice(0, 120)
    mapping.value = guessed(file.value.headings, fields.value)
  } catch (error) {
    file.value = null
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const read = computed(() => readRows(file.value, mapping.value, known.value))
async function make(): Promise<void> {
  wrong.value = ''
  busy.value = true
  try {
    const done = await post<{ count: number; projectId: number | null }>('/tasks/edits', {
      edits: [],
      make: read.value.made,
      ...(into.value === 'new' && { project: { name: name.value, clientId: clientId.value } }),
    })
    await session.read()
    messages.did(`${plural(done.count, 'task')} brought in.`, done)
    const made = done.projectId ?? into.value
    await router.push(typeof made === 'number' ? `/work/${made}` : '/work/all')
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const COLUMNS = computed(() =>
  mapping.value.flatMap((field, c) =>
    field ? [{ c, name: fields.value.find((f) => f.field === field)?.name ?? field }] : [],
  ),
)
</script>

<template>
  <WorkNav />
  <main class="page">
    <div class="sheet">
      <h1>Bring in tasks</h1>
      <p class="sub">
        From a CSV file or a workbook (XLSX): a heading line, then a line for each task. Formulas
        are kept as text.
      </p>
      <FileDrop
        :title="
          file
            ? 'Choose another file, or drop it here'
            : 'Choose a CSV file or a workbook, or drop it here'
        "
        label="File to bring in"
        accept=".csv,.tsv,.txt,.xlsx"
        :busy="busy"
        @files="choose($event[0])"
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <template v-if="file">
        <p v-for="n in file.notes" :key="n" class="note">{{ n }}</p>
        <h2 class="section">What each column means</h2>
        <ColumnMeanings v-model="mapping" :file="file" :fields="fields" />
        <h2 class="section">
          What it becomes
          <span>{{ plural(read.made.length, 'task') }}</span>
        </h2>
        <div class="scroll">
          <v-table>
            <thead>
              <tr>
                <th v-for="col in COLUMNS" :key="col.c">{{ col.name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="(row, i) in file.rows.slice(0, 30)"
                :key="i"
                :class="{ bad: read.faults.some((f) => f.line === i + 2) }"
              >
                <td v-for="col in COLUMNS" :key="col.c">{{ row[col.c]?.slice(0, 60) }}</td>
              </tr>
            </tbody>
          </v-table>
        </div>
        <p v-if="file.rows.length > 30" class="small quiet">
          and {{ file.rows.length - 30 }} lines more
        </p>
      </template>
      <div v-else class="empty">
        <h3>A list from elsewhere</h3>
        <p>
          Each line becomes a task; you see what it becomes before anything is made, and can take it
          all back at once.
        </p>
      </div>
    </div>
    <MarginPane label="Where it goes">
      <template v-if="file">
        <h3>Where it goes</h3>
        <div class="field">
          <label for="bi-into">Into</label>
          <v-autocomplete
            id="bi-into"
            v-model="into"
            :items="[
              { value: 'new', title: 'a new project' },
              { value: 'none', title: 'no project' },
              ...session.directory.projects.map((p) => ({ value: p.id, title: p.name })),
            ]"
          />
        </div>
        <template v-if="into === 'new'">
          <div class="field">
            <label for="bi-name">Name of the project</label>
            <v-text-field id="bi-name" v-model="name" maxlength="120" />
          </div>
          <div class="field">
            <label for="bi-client">Client</label>
            <v-autocomplete
              id="bi-client"
              v-model="clientId"
              :items="withNone(session.directory.clients, 'none')"
            />
          </div>
        </template>
        <v-btn
          variant="flat"
          :disabled="busy || !read.made.length || (into === 'new' && !name.trim())"
          @click="make"
        >
          Bring in {{ plural(read.made.length, 'task') }}
        </v-btn>
        <template v-if="read.faults.length">
          <h3 class="gap">{{ plural(read.faults.length, 'line') }} left out</h3>
          <div v-for="f in read.faults.slice(0, 100)" :key="f.line" class="note small">
            <b>Line {{ f.line }}</b>
            {{ f.text }}
          </div>
          <p v-if="read.faults.length > 100" class="quiet">
            and {{ read.faults.length - 100 }} more
          </p>
        </template>
        <p v-else class="note">Every line can be read.</p>
      </template>
    </MarginPane>
  </main>
</template>

<style scoped>
.gap {
  margin-top: 18px;
}
.scroll {
  overflow-x: auto;
}
.bad td {
  color: var(--alarm);
}
</style>
