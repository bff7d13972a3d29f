<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import {
  guessMapping,
  IMPORT_FIELDS,
  readTemplateRows,
  type ImportField,
  type ImportMapping,
} from '#core/formats/template-rows.ts'
import type { ReadTable, TemplateSheet } from '#contract/clockwork.ts'
import { call, post, sentence } from '#web/api/client.ts'
import MarginPane from '#web/parts/MarginPane.vue'
import { plural } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import ClockworkNav from './ClockworkNav.vue'
import TemplateTasks from './TemplateTasks.vue'
import FileDrop from '#web/parts/FileDrop.vue'

const router = useRouter()
const table = ref<ReadTable | null>(null)
const mapping = ref<ImportMapping>({})
const name = ref('')
const anchor = ref<'start' | 'deadline'>('deadline')
const wrong = ref('')
const busy = ref(false)
const LABELS: Record<ImportField, string> = {
  title: 'Title',
  phase: 'Phase',
  role: 'Role',
  effort: 'Effort',
  days: 'Days from the anchor',
  description: 'Description',
}

async function take(file: File | undefined): Promise<void> {
  if (!file) return
  wrong.value = ''
  busy.value = true
  try {
    table.value = await call<ReadTable>('POST', '/templates/read', { bytes: file, asks: true })
    mapping.value = { ...table.value.mapping }
    name.value ||= file.name
      .replace(/\.[^.]+$/, '')
      .replace(/[-_]+/g, ' ')
      .slice(0, 120)
  } catch (error) {
    table.value = null
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const pasted = ref('')
const takePasted = () => take(new File([pasted.value], 'Checklist.txt', { type: 'text/plain' }))
/** Whether the first line is headings: guessed, and said otherwise where that is wrong. */
const headed = computed({
  get: () => table.value?.firstLine === 2,
  set(on) {
    if (!table.value) return
    const { headings, rows } = table.value
    const [first = [], ...rest] = rows
    const next = on
      ? { headings: [...first], rows: rest, firstLine: 2 }
      : {
          headings: headings.map((_, i) => `Column ${i + 1}`),
          rows: [headings, ...rows],
          firstLine: 1,
        }
    table.value = { ...table.value, ...next, mapping: guessMapping(next.headings, next.rows) }
    mapping.value = { ...table.value.mapping }
  },
})
const columns = computed(() => [
  { value: -1, name: 'not in the file' },
  ...(table.value?.headings ?? []).map((h, i) => ({ value: i, name: h || `column ${i + 1}` })),
])
/** The first thing that the column of a field says. */
function example(field: ImportField): string {
  const column = mapping.value[field]
  if (column === undefined) return ''
  return `such as “${table.value?.rows.find((row) => row[column]?.trim())?.[column] ?? ''}”`
}
const setColumn = (field: ImportField, column: number) => {
  const next = { ...mapping.value }
  if (column < 0) delete next[field]
  else next[field] = column
  mapping.value = next
}
const read = computed(() =>
  table.value && mapping.value.title !== undefined
    ? readTemplateRows(
        table.value.rows,
        mapping.value,
        name.value || 'Template',
        anchor.value,
        table.value.firstLine,
      )
    : null,
)
async function make(): Promise<void> {
  if (!table.value) return
  busy.value = true
  wrong.value = ''
  try {
    const made = await post<TemplateSheet>(
      '/templates/import',
      {
        name: name.value.trim(),
        anchor: anchor.value,
        rows: table.value.rows,
        mapping: mapping.value,
      },
      { once: crypto.randomUUID() },
    )
    await router.push(`/clockwork/templates/${made.id}`)
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main>
    <ClockworkNav />
    <div class="page">
      <div class="sheet">
        <h1>Bring in a checklist</h1>
        <div class="sub">
          <span>
            A CSV file or a workbook (XLSX), or what was copied from a sheet: a task on each line,
            with headings or without.
          </span>
        </div>
        <FileDrop
          :title="
            table
              ? 'Choose another file, or drop it here'
              : 'Choose a CSV file or a workbook, or drop it here'
          "
          label="File to bring in"
          accept=".csv,.tsv,.txt,.xlsx"
          @files="take($event[0])"
        />
        <div v-if="!table" class="field pasted">
          <label for="pasted">Or paste it here</label>
          <v-textarea
            id="pasted"
            v-model="pasted"
            rows="3"
            placeholder="A line for each task, as copied from a sheet or a list"
          />
          <v-btn v-if="pasted.trim()" :disabled="busy" @click="takePasted">
            Use what is pasted
          </v-btn>
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <template v-if="table">
          <v-checkbox v-model="headed" label="The first line is headings" />
          <p v-for="n in table.notes" :key="n" class="ochre">{{ n }}</p>
          <h2 class="section">What each column means</h2>
          <div class="map">
            <template v-for="field in IMPORT_FIELDS" :key="field">
              <span>{{ LABELS[field] }}</span>
              <span>
                <TokenPick
                  :model-value="mapping[field] ?? -1"
                  :options="columns"
                  :label="`Column for ${LABELS[field]}`"
                  tone="value"
                  @update:model-value="setColumn(field, $event)"
                />
                <span class="quiet small">{{ example(field) }}</span>
              </span>
            </template>
          </div>
          <p v-if="mapping.title === undefined" class="wrong">
            Choose the column that holds the titles.
          </p>
          <template v-if="read">
            <h2 class="section">
              What it becomes
              <span>
                {{ plural(read.kept, 'task') }} in
                {{ plural(read.template.phases.length, 'phase') }}
              </span>
            </h2>
            <TemplateTasks :template="read.template" />
          </template>
        </template>
      </div>
      <MarginPane label="The template">
        <template v-if="table">
          <h3>The template</h3>
          <div class="field">
            <label for="tname">Name</label>
            <v-text-field id="tname" v-model="name" maxlength="120" />
          </div>
          <div class="field">
            <span class="label">Days count from</span>
            <span>
              <TokenPick
                v-model="anchor"
                :options="[
                  { value: 'deadline', name: 'the deadline' },
                  { value: 'start', name: 'the start' },
                ]"
                label="Anchor"
                tone="value"
              />
            </span>
          </div>
          <v-btn variant="flat" :disabled="busy || !read?.kept || !name.trim()" @click="make">
            Make the template
          </v-btn>
          <template v-if="read?.problems.length">
            <h3 class="gap">{{ plural(read.problems.length, 'row') }} left out</h3>
            <div class="note small" v-for="p in read.problems.slice(0, 100)" :key="p.line">
              <b>Line {{ p.line }}</b>
              {{ p.reason }}.
            </div>
            <p v-if="read.problems.length > 100" class="quiet">
              and {{ read.problems.length - 100 }} more
            </p>
          </template>
          <p v-else-if="read" class="note">Every row can be read.</p>
        </template>
        <template v-else>
          <h3>What the columns can hold</h3>
          <p class="note">
            <b>Title</b>
            is all that must be there.
          </p>
          <p class="note">
            <b>Phase</b>
            and
            <b>role</b>
            are names; each new one is made.
          </p>
          <p class="note">
            <b>Effort:</b>
            90, 45m, 1h 30m.
          </p>
          <p class="note">
            <b>Days:</b>
            -3 is three working days before the anchor, 2 is two after.
          </p>
        </template>
      </MarginPane>
    </div>
  </main>
</template>

<style scoped>
.map {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 4px 10px;
  align-items: center;
  padding: 8px 0;
}
.pasted {
  margin-top: 10px;
  justify-items: start;
}
.pasted > .v-input {
  width: 100%;
}
.gap {
  margin: 18px 0 6px;
}
h3 {
  margin-bottom: 10px;
}
</style>
