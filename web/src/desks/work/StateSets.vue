<script setup lang="ts">
import { computed, ref } from 'vue'
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import { call, put } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import StateRows from './StateRows.vue'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { useForm, type Held } from '#web/forms/useForm.ts'
import { sayClash } from '#web/forms/words.ts'
import { shelfFor } from '#web/state/draft.ts'

/** Sets of states: the firm's own, and those of single projects and templates. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
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
/** States are told apart by their ids; new ones have none yet. */
const heldOf = ({ name, states, version }: StateSetSheet): Held<StateSetBody> => ({
  value: {
    name,
    states: states.map(({ id, name, kind, colour, only }) => ({ id, name, kind, colour, only })),
    moveTo: {},
  },
  version,
})
const form = useForm<StateSetBody>({
  key: () => (set.value ? `states.${set.value.id}` : null),
  held: () => (set.value ? heldOf(set.value) : null),
  async send(value, seen) {
    const { id } = set.value!
    const done = await put<StateSetSheet[]>(`/state-sets/${id}`, value, { seen })
    messages.did('The states are saved.', done)
    sets.value = done
    return heldOf(done.find((s) => s.id === id)!)
  },
  again: () => reload(),
  shelf: shelfFor,
})
const { draft, dirty, busy, fault } = form
const faults = computed(() => [fault.value, ...Object.values(form.faults.value)].filter(Boolean))
const mayLeave = useUnsaved(dirty, 'This set of states', form.putBack)
const LABELS = {
  ...{ name: 'Name', states: 'States', kind: 'Kind', colour: 'Colour', only: 'Who may set it' },
}
const clashes = computed(() =>
  form.clashes.value.map((clash) => sayClash(draft.value, clash, LABELS)),
)
function choose(id: number): void {
  if (id !== chosen.value && mayLeave()) chosen.value = id
}
/** States taken out that tasks still stand in: each needs a place for them. */
const leaving = computed(() =>
  (set.value?.states ?? []).filter(
    (s) => s.tasks > 0 && !draft.value?.states.some((d) => d.id === s.id),
  ),
)
const BLANK = { name: '', kind: 'under-way', colour: null, only: 'anyone' } as const
async function save(): Promise<void> {
  if (await form.save()) await session.read()
}

/** A template that names no other set begins with the firm's own. */
const begins = (id: number) =>
  set.value!.id === 1
    ? !sets.value!.some((s) => s.templates.some((t) => t.id === id))
    : set.value!.templates.some((t) => t.id === id)
const startWith = (id: number) =>
  attempt(async () => {
    const done = await put<StateSetSheet[]>(`/templates/${id}/states`, {
      setId: begins(id) ? 1 : set.value!.id,
    })
    sets.value = done
    messages.did('Saved; projects that run keep their states.', done)
  })

const drop = () =>
  attempt(async () => {
    const done = await call<StateSetSheet[]>('DELETE', `/state-sets/${set.value!.id}`)
    messages.did('The set is removed.', done)
    chosen.value = 1
    sets.value = done
  })
</script>

<template>
  <LoadState v-if="!sets" :error="error" @retry="reload" />
  <section v-else>
    <h2 class="section">
      States
      <span>the firm’s own, and those of single projects</span>
    </h2>
    <p class="btns">
      <v-btn
        v-for="s in sets"
        :key="s.id"
        :variant="s.id === set?.id ? 'flat' : undefined"
        :aria-pressed="s.id === set?.id"
        @click="choose(s.id)"
      >
        {{ s.name }}
      </v-btn>
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
        <v-checkbox
          v-for="t in session.directory.templates"
          :key="t.id"
          :model-value="begins(t.id)"
          :disabled="set.id === 1 && begins(t.id)"
          :label="t.name"
          @update:model-value="startWith(t.id)"
        />
      </p>
      <StateRows v-model="draft.states" :may="may" :now="set.states" />
      <div v-for="s in leaving" :key="s.id" class="leaving">
        <label :for="`lv-${s.id}`">
          {{ plural(s.tasks, 'task') }} in “{{ s.name }}” {{ s.tasks === 1 ? 'goes' : 'go' }} to
        </label>
        <v-select
          :id="`lv-${s.id}`"
          :model-value="draft.moveTo?.[s.id] ?? ''"
          @update:model-value="
            draft = {
              ...draft!,
              moveTo: { ...draft!.moveTo, [s.id]: $event },
            }
          "
          :items="[
            { value: '', title: 'choose' },
            ...draft.states.map((d) => ({ value: d.name, title: d.name })),
          ]"
        />
      </div>
      <p v-for="text in faults" :key="text" class="wrong" role="alert">{{ text }}</p>
      <p v-if="may" class="btns">
        <v-btn @click="draft.states.push({ ...BLANK })">Add a state</v-btn>
        <v-btn variant="flat" :disabled="!dirty || busy" @click="save">Save the states</v-btn>
        <v-btn v-if="dirty" @click="form.putBack">Drop the changes</v-btn>
        <v-btn
          color="error"
          v-if="set.id !== 1 && !set.projects.length && !set.templates.length"
          @click="drop"
        >
          Remove this set
        </v-btn>
      </p>
      <ClashAsk :clashes="clashes" what="these states" @settle="(form.settle($event), save())" />
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
.leaving .v-input {
  width: auto;
}
.btns {
  margin: 8px 0;
}
</style>
