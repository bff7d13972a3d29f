<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import { ApiProblem, call, put, sentence } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import StateRows from './StateRows.vue'

/** Sets of states: the firm's own, and those of single projects and templates. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const {
  data: sets,
  error,
  reload,
} = useResource<StateSetSheet[]>(
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
const BLANK = { name: '', kind: 'under-way', colour: null, only: 'anyone' } as const
async function save(): Promise<void> {
  wrong.value = ''
  try {
    const done = await put<StateSetSheet[]>(`/state-sets/${set.value!.id}`, draft.value, {
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
    const names = set.value?.states.map((s) => s.name).join(', ')
    wrong.value +=
      ` There now: ${names}. Save again to put yours in their place, ` +
      'or put back to begin from them.'
  }
}

/** A template that names no other set begins with the firm's own. */
const begins = (id: number) =>
  set.value!.id === 1
    ? !sets.value!.some((s) => s.templates.some((t) => t.id === id))
    : set.value!.templates.some((t) => t.id === id)
async function startWith(id: number): Promise<void> {
  try {
    const done = await put<StateSetSheet[]>(`/templates/${id}/states`, {
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
    const done = await call<StateSetSheet[]>('DELETE', `/state-sets/${set.value!.id}`)
    messages.did('The set is removed.', done)
    chosen.value = 1
    sets.value = done
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
</script>

<template>
  <LoadState v-if="!sets" :error="error" @retry="reload" />
  <section v-else>
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
      <StateRows v-model="draft.states" :may="may" :now="set.states" />
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
        <button class="btn" @click="draft.states.push({ ...BLANK })">Add a state</button>
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
  </section>
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
.btns {
  margin: 8px 0;
}
</style>
