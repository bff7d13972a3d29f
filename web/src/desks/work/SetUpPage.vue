<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import {
  PALETTE,
  CUSTOM_KINDS,
  CUSTOM_NAMES,
  type CustomField,
  type TagRow,
} from '#contract/fields.ts'
import type { FieldBody, StateSetBody, StateSetView } from '#contract/setup.ts'
import { call, post, put, sentence } from '#web/api/client.ts'
import { ApiProblem } from '#web/api/client.ts'
import { STATE_LIST } from '#web/parts/choices.ts'
import { plural } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import ViewState from '#web/parts/ViewState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useView } from '#web/state/view.ts'
import FieldForm from './FieldForm.vue'
import RecordsKept from './RecordsKept.vue'
import WorkNav from './WorkNav.vue'

/** How work is set up: states in sets, custom fields, tags. */
const session = useSession()
const messages = useMessages()
const may = computed(() => session.me?.may.structure === true)
const {
  data: sets,
  error,
  reload,
} = useView<StateSetView[]>(
  () => '/state-sets',
  (c) => c.entities.some((e) => e === 'states' || e === 'stateSets' || e === 'projects'),
  { keep: true },
)
const chosen = ref(1)
const set = computed(() => sets.value?.find((s) => s.id === chosen.value) ?? sets.value?.[0])
const draft = ref<StateSetBody | null>(null)
/** What the draft began as, and from which version. */
const base = ref('')
let version = 0
watch(set, (now) => {
  if (now && !dirty.value) begin()
})
function begin(): void {
  const now = set.value
  draft.value = now
    ? {
        name: now.name,
        states: now.states.map(({ id, name, kind, colour, only }) => ({
          id,
          name,
          kind,
          colour,
          only,
        })),
        moveTo: {},
      }
    : null
  base.value = plain()
  version = now?.version ?? 0
}
const plain = () =>
  draft.value ? JSON.stringify({ name: draft.value.name, states: draft.value.states }) : ''
const dirty = computed(() => plain() !== base.value)
watch(chosen, begin)
const mayLeave = useUnsaved(dirty, 'This set of states')
function choose(id: number): void {
  if (id !== chosen.value && mayLeave()) chosen.value = id
}
/** States taken out that tasks still stand in: each needs a place for them. */
const leaving = computed(() =>
  (set.value?.states ?? []).filter(
    (s) => s.tasks > 0 && !draft.value?.states.some((d) => d.id === s.id),
  ),
)
const wrong = ref('')
function shift(index: number, by: number): void {
  const states = [...draft.value!.states]
  const [moved] = states.splice(index, 1)
  states.splice(Math.max(0, index + by), 0, moved!)
  draft.value = { ...draft.value!, states }
}
async function save(): Promise<void> {
  wrong.value = ''
  try {
    const done = await put<StateSetView[]>(`/state-sets/${set.value!.id}`, draft.value, {
      seen: version,
    })
    messages.did('The states are saved.', done)
    sets.value = done
    begin()
    await session.read()
  } catch (problem) {
    wrong.value = sentence(problem)
    if (!(problem instanceof ApiProblem && problem.problem.code === 'changed-since')) return
    // What was typed stays; whoever saves again has been told.
    await reload()
    version = set.value?.version ?? 0
    wrong.value += ` There now: ${set.value?.states.map((s) => s.name).join(', ')}. Save again to put yours in their place, or put back to begin from them.`
  }
}

/** A template that names no other set begins with the firm's own. */
const begins = (id: number) =>
  set.value!.id === 1
    ? !sets.value!.some((s) => s.templates.some((t) => t.id === id))
    : set.value!.templates.some((t) => t.id === id)
async function startWith(id: number): Promise<void> {
  try {
    const done = await put<StateSetView[]>(`/templates/${id}/states`, {
      setId: begins(id) ? 1 : set.value!.id,
    })
    sets.value = done
    messages.did('Saved; projects that run keep their states.', done)
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}

async function drop(): Promise<void> {
  try {
    const done = await call<StateSetView[]>('DELETE', `/state-sets/${set.value!.id}`)
    messages.did('The set is removed.', done)
    chosen.value = 1
    sets.value = done
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}

const fields = computed(() => session.directory.fields)
const editing = ref<CustomField | 'new' | null>(null)
const fieldWrong = ref('')
async function saveField(body: FieldBody): Promise<void> {
  fieldWrong.value = ''
  try {
    const done =
      editing.value === 'new'
        ? await post('/fields', body)
        : await put(`/fields/${(editing.value as CustomField).id}`, body)
    messages.did(`The field “${body.name}” is saved.`, done)
    editing.value = null
    await session.read()
  } catch (problem) {
    fieldWrong.value = sentence(problem)
  }
}
async function hide(field: CustomField): Promise<void> {
  try {
    const { id: _, ...body } = field
    messages.did(
      field.hidden
        ? `“${field.name}” is shown again.`
        : `“${field.name}” is hidden; its values stay.`,
      await put(`/fields/${field.id}`, { ...body, hidden: !field.hidden }),
    )
    await session.read()
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
const whose = (f: CustomField) =>
  f.projectId
    ? (session.directory.projects.find((p) => p.id === f.projectId)?.name ??
      'a project that is closed')
    : f.templateId
      ? `projects of “${session.directory.templates.find((t) => t.id === f.templateId)?.name ?? 'a template'}”`
      : 'everywhere'

const tag = ref({ name: '', colour: 'teal' })
async function tagged(work: () => Promise<unknown>, said: string): Promise<boolean> {
  try {
    messages.did(said, await work())
    await session.read()
    return true
  } catch (problem) {
    messages.fault(sentence(problem))
    return false
  }
}
async function addTag(): Promise<void> {
  if (await tagged(() => post('/tags', tag.value), `The tag “${tag.value.name}” is made.`))
    tag.value = { name: '', colour: PALETTE[session.directory.tags.length % PALETTE.length]! }
}
const saveTag = (t: TagRow, change: Partial<TagRow>) =>
  tagged(
    () => put(`/tags/${t.id}`, { name: change.name ?? t.name, colour: change.colour ?? t.colour }),
    'The tag is saved.',
  )
</script>

<template>
  <WorkNav />
  <main class="page wide">
    <div class="sheet">
      <ViewState v-if="!sets" :error="error" @retry="reload" />
      <template v-else>
        <h1>Set up</h1>
        <p v-if="!may" class="sub">Managers change states and fields; everyone may make tags.</p>
        <h2 class="section">
          States
          <span>the firm’s own, and those of single projects</span>
        </h2>
        <p class="btns">
          <button
            v-for="s in sets"
            :key="s.id"
            class="btn"
            :class="{ pri: s.id === set?.id }"
            :aria-pressed="s.id === set?.id"
            @click="choose(s.id)"
          >
            {{ s.name }}
          </button>
        </p>
        <template v-if="draft && set">
          <p class="small quiet">
            {{
              set.id === 1
                ? 'Used wherever nothing else is chosen.'
                : set.projects.length
                  ? `Used by ${set.projects.map((p) => p.name).join(', ')}.`
                  : 'Used by no project now.'
            }}
            A project gets its own from its menu, as a copy of any set.
          </p>
          <p v-if="may" class="small begin">
            <span>Projects of these templates begin with it:</span>
            <label v-for="t in session.directory.templates" :key="t.id">
              <input
                type="checkbox"
                :checked="begins(t.id)"
                :disabled="set.id === 1 && begins(t.id)"
                @change="startWith(t.id)"
              />
              {{ t.name }}
            </label>
          </p>
          <table class="plain states">
            <thead>
              <tr>
                <th><span class="sr">Mark</span></th>
                <th>Name</th>
                <th>Kind</th>
                <th>Colour</th>
                <th>Who may set it</th>
                <th>Tasks</th>
                <th><span class="sr">Order</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(s, i) in draft.states" :key="s.id ?? `n${i}`">
                <td><StateBar :state="s.kind" :colour="s.colour" :name="s.name" /></td>
                <td>
                  <input
                    v-model="s.name"
                    class="inp"
                    maxlength="40"
                    :readonly="!may"
                    :aria-label="`Name of state ${i + 1}`"
                  />
                </td>
                <td>
                  <select
                    v-model="s.kind"
                    class="inp"
                    :disabled="!may"
                    :aria-label="`Kind of ${s.name}`"
                  >
                    <option v-for="k in STATE_LIST" :key="k.value" :value="k.value">
                      {{ k.name }}
                    </option>
                  </select>
                </td>
                <td>
                  <select
                    v-model="s.colour"
                    class="inp"
                    :disabled="!may"
                    :aria-label="`Colour of ${s.name}`"
                  >
                    <option :value="null">as its kind</option>
                    <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
                  </select>
                </td>
                <td>
                  <select
                    v-model="s.only"
                    class="inp"
                    :disabled="!may"
                    :aria-label="`Who may set ${s.name}`"
                  >
                    <option value="anyone">anyone</option>
                    <option value="lead">the project’s lead, managers</option>
                    <option value="manager">managers</option>
                  </select>
                </td>
                <td class="quiet">{{ set.states.find((x) => x.id === s.id)?.tasks ?? 0 }}</td>
                <td v-if="may" class="nw">
                  <button class="x" :aria-label="`${s.name} earlier`" @click="shift(i, -1)">
                    ↑
                  </button>
                  <button class="x" :aria-label="`${s.name} later`" @click="shift(i, 1)">↓</button>
                  <button
                    class="btn flat"
                    @click="draft = { ...draft!, states: draft!.states.filter((_, n) => n !== i) }"
                  >
                    Remove
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
          <div v-for="s in leaving" :key="s.id" class="leaving">
            <label :for="`lv-${s.id}`">
              {{ plural(s.tasks, 'task') }} in “{{ s.name }}” {{ s.tasks === 1 ? 'goes' : 'go' }} to
            </label>
            <select
              :id="`lv-${s.id}`"
              class="inp"
              :value="draft.moveTo?.[s.id] ?? ''"
              @change="
                draft = {
                  ...draft!,
                  moveTo: { ...draft!.moveTo, [s.id]: ($event.target as HTMLSelectElement).value },
                }
              "
            >
              <option value="">choose</option>
              <option v-for="d in draft.states" :key="d.name" :value="d.name">{{ d.name }}</option>
            </select>
          </div>
          <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
          <p v-if="may" class="btns">
            <button
              class="btn"
              @click="
                draft.states.push({ name: '', kind: 'under-way', colour: null, only: 'anyone' })
              "
            >
              Add a state
            </button>
            <button class="btn pri" :disabled="!dirty" @click="save">Save the states</button>
            <button v-if="dirty" class="btn" @click="begin">Put back</button>
            <button
              v-if="set.id !== 1 && !set.projects.length && !set.templates.length"
              class="btn danger"
              @click="drop"
            >
              Remove this set
            </button>
          </p>
        </template>

        <h2 class="section">
          Fields
          <span>what tasks carry besides the usual</span>
        </h2>
        <table v-if="fields.length" class="plain">
          <thead>
            <tr>
              <th>Name</th>
              <th>Type</th>
              <th>Where</th>
              <th>Choices</th>
              <th><span class="sr">Change</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in fields" :key="f.id" :class="{ off: f.hidden }">
              <td>{{ f.name }}</td>
              <td>
                {{ CUSTOM_NAMES[f.kind]
                }}{{ f.kind === 'money' ? `, ${f.options.currency ?? 'GBP'}` : '' }}
              </td>
              <td>{{ whose(f) }}</td>
              <td>
                <span
                  v-for="c in f.options.choices"
                  :key="c.key"
                  class="tint"
                  :class="`c-${c.colour}`"
                >
                  {{ c.name }}
                </span>
              </td>
              <td class="nw">
                <template v-if="may">
                  <button class="btn" @click="editing = f">Change</button>
                  <button class="btn" @click="hide(f)">
                    {{ f.hidden ? 'Show again' : 'Hide' }}
                  </button>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="quiet">
          None yet. A field is something every task can say: an amount, a reference, a choice.
        </p>
        <p v-if="may" class="btns">
          <button class="btn" @click="editing = 'new'">Make a field</button>
        </p>
        <v-dialog
          :model-value="editing !== null"
          max-width="480"
          @update:model-value="editing = null"
        >
          <FieldForm
            v-if="editing"
            :field="editing === 'new' ? null : editing"
            :wrong="fieldWrong"
            :kinds="CUSTOM_KINDS"
            @save="saveField"
            @close="editing = null"
          />
        </v-dialog>

        <h2 class="section">Tags</h2>
        <ul class="tags">
          <li v-for="t in session.directory.tags" :key="t.id">
            <span class="tint" :class="`c-${t.colour}`">{{ t.name }}</span>
            <template v-if="session.me?.may.member">
              <TypeIn
                :most="40"
                :value="t.name"
                :label="`Name of the tag ${t.name}`"
                @typed="saveTag(t, { name: $event })"
              />
              <select
                class="inp"
                :value="t.colour"
                :aria-label="`Colour of ${t.name}`"
                @change="saveTag(t, { colour: ($event.target as HTMLSelectElement).value })"
              >
                <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
              </select>
            </template>
            <button
              v-if="may"
              class="btn flat"
              @click="
                tagged(
                  () => call('DELETE', `/tags/${t.id}`),
                  `The tag “${t.name}” is gone from every task.`,
                )
              "
            >
              Remove
            </button>
          </li>
        </ul>
        <form v-if="session.me?.may.member" class="btns" @submit.prevent="addTag">
          <input
            v-model="tag.name"
            class="inp short"
            maxlength="40"
            placeholder="A new tag"
            aria-label="Name of a new tag"
            required
          />
          <select v-model="tag.colour" class="inp auto-w" aria-label="Colour of the new tag">
            <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
          </select>
          <button class="btn">Make it</button>
        </form>

        <h2 class="section">
          Records
          <span>how long what piles up by itself is kept</span>
        </h2>
        <RecordsKept :may="may" />
      </template>
    </div>
  </main>
</template>

<style scoped>
.begin {
  display: flex;
  gap: 4px 14px;
  flex-wrap: wrap;
  margin-top: 6px;
}
.begin label {
  display: inline-flex;
  gap: 5px;
}
.section {
  margin: 24px 0 8px;
}
.sheet > .btns {
  margin: 8px 0;
}
.states {
  max-width: 980px;
  margin-top: 8px;
}
.states td {
  padding-block: 3px;
  vertical-align: middle;
}
.nw {
  white-space: nowrap;
}
.leaving {
  display: flex;
  gap: 8px;
  align-items: center;
  background: var(--ochre-wash);
  border-radius: 4px;
  padding: 5px 10px;
  margin-top: 6px;
  max-width: 620px;
}
.leaving .inp {
  width: auto;
}
.off td {
  color: var(--ink-3);
}
.tags {
  list-style: none;
  padding: 0;
  columns: 2;
  max-width: 900px;
}
.tags li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
  break-inside: avoid;
}
.tags :deep(.inp) {
  width: 140px;
}
.tags .tint {
  min-width: 92px;
}
.short {
  width: 180px;
}
.auto-w {
  width: auto;
}
td .tint {
  margin-right: 4px;
}
@media (max-width: 900px) {
  .tags {
    columns: 1;
  }
  .tags li {
    flex-wrap: wrap;
  }
  .tags .inp {
    width: 104px;
  }
  .plain {
    display: block;
    overflow-x: auto;
    position: relative;
  }
  .states .inp {
    min-width: 110px;
  }
}
</style>
