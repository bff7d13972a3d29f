<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { COPIES, COPY_NAMES } from '#contract/words.ts'
import type { CloneBody, ProjectSheet } from '#contract/projects.ts'
import type { StateSetSheet } from '#contract/setup.ts'
import { get, patch, post, put, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/**
 * What can be done with a whole project: copy, finish, archive, merge, its name and people, its
 * states and fields.
 */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const doing = ref<'copy' | 'merge' | 'states' | 'fields' | 'edit' | null>(null)
const wrong = ref('')
const copy = ref<CloneBody>({ name: '', take: [], anchor: null })
const into = ref(0)
const sets = ref<StateSetSheet[]>([])
const set = ref(1)
const own = ref(false)
const basics = ref({
  name: '',
  clientId: null as number | null,
  leadId: null as number | null,
  anchor: null as string | null,
})

async function begin(what: NonNullable<typeof doing.value>): Promise<void> {
  wrong.value = ''
  copy.value = {
    name: `${props.project.name} (copy)`.slice(0, 120),
    take: [
      'description',
      'assignees',
      'tags',
      'fields',
      'dates',
      'checklist',
      'subtasks',
      'milestones',
    ],
    anchor: props.project.anchor,
  }
  basics.value = {
    name: props.project.name,
    clientId: props.project.client?.id ?? null,
    leadId: props.project.lead?.id ?? null,
    anchor: props.project.anchor,
  }
  set.value = props.project.stateSetId
  own.value = false
  try {
    if (what === 'states') sets.value = await get<StateSetSheet[]>('/state-sets')
    doing.value = what
  } catch (error) {
    messages.fault(sentence(error))
  }
}
async function run(work: () => Promise<unknown>, said: string): Promise<boolean> {
  try {
    messages.did(said, await work())
    doing.value = null
    await session.read()
    emit('changed')
    return true
  } catch (error) {
    wrong.value = sentence(error)
    if (!doing.value) messages.fault(wrong.value)
    return false
  }
}
const path = computed(() => `/projects/${props.project.id}`)
const toggle = (field: 'archived' | 'closed', on: boolean, said: string) =>
  run(() => patch(path.value, { [field]: on }, { seen: props.project.version }), said)
async function doCopy(): Promise<void> {
  let made = 0
  if (
    await run(async () => {
      const p = await post<ProjectSheet>(`${path.value}/copy`, copy.value)
      made = p.id
      return p
    }, `“${copy.value.name}” is made.`)
  )
    await router.push(`/work/${made}`)
}
async function doMerge(): Promise<void> {
  if (
    await run(
      () => post(`${path.value}/merge`, { into: into.value }),
      'Merged; what was left of this project is archived.',
    )
  )
    await router.push(`/work/${into.value}`)
}
const fields = computed(() =>
  session.directory.fields.filter(
    (f) =>
      !f.hidden &&
      (f.projectId === null || f.projectId === props.project.id) &&
      (f.templateId === null || f.templateId === props.project.template?.id),
  ),
)
const shape = computed(() => props.project.may.structure)
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <button v-bind="menu" class="btn" aria-label="More for this project">⋯</button>
    </template>
    <div class="menu">
      <button v-if="shape" @click="begin('edit')">Name, client, lead, date…</button>
      <button @click="begin('copy')">Copy…</button>
      <router-link :to="{ path: '/work/journal', query: { project: project.id } }">
        Its journal
      </router-link>
      <button
        v-if="shape"
        @click="
          toggle(
            'closed',
            project.closedAt === null,
            project.closedAt === null ? 'The project is finished.' : 'The project runs again.',
          )
        "
      >
        {{ project.closedAt === null ? 'Finish' : 'Run again' }}
      </button>
      <button
        v-if="shape"
        @click="
          toggle(
            'archived',
            project.archivedAt === null,
            project.archivedAt === null ? 'The project is archived.' : 'The project is back.',
          )
        "
      >
        {{ project.archivedAt === null ? 'Archive' : 'Bring back' }}
      </button>
      <button v-if="shape" @click="begin('merge')">Merge into another…</button>
      <template v-if="session.me?.may.structure">
        <button @click="begin('states')">States…</button>
        <button @click="begin('fields')">Fields…</button>
      </template>
    </div>
  </v-menu>
  <v-dialog :model-value="doing !== null" max-width="480" @update:model-value="doing = null">
    <div v-if="doing" class="dialog">
      <form
        v-if="doing === 'edit'"
        @submit.prevent="run(() => patch(path, basics, { seen: project.version }), 'Saved.')"
      >
        <h3>The project</h3>
        <div class="field">
          <label for="pe-name">Name</label>
          <input id="pe-name" v-model="basics.name" class="inp" maxlength="120" required />
        </div>
        <div class="field">
          <label for="pe-client">Client</label>
          <select id="pe-client" v-model="basics.clientId" class="inp">
            <option :value="null">none</option>
            <option v-for="c in session.directory.clients" :key="c.id" :value="c.id">
              {{ c.name }}
            </option>
          </select>
        </div>
        <div class="field">
          <label for="pe-lead">Lead</label>
          <select id="pe-lead" v-model="basics.leadId" class="inp">
            <option :value="null">nobody</option>
            <option v-for="p in session.active" :key="p.id" :value="p.id">{{ p.name }}</option>
          </select>
        </div>
        <div class="field">
          <label for="pe-date">Date it counts from or to</label>
          <DateField id="pe-date" v-model="basics.anchor" />
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <button class="btn pri">Save</button>
          <button class="btn" type="button" @click="doing = null">Leave it</button>
        </div>
      </form>
      <form v-else-if="doing === 'copy'" @submit.prevent="doCopy">
        <h3>Copy the project</h3>
        <div class="field">
          <label for="pc-name">Name of the copy</label>
          <input id="pc-name" v-model="copy.name" class="inp" maxlength="120" required />
        </div>
        <div class="field">
          <label for="pc-date">Its date; every other date keeps its distance in working days</label>
          <DateField id="pc-date" v-model="copy.anchor" />
        </div>
        <p class="small label">What goes along, besides phases and tasks</p>
        <label v-for="c in [...COPIES, 'milestones' as const]" :key="c" class="line">
          <input v-model="copy.take" type="checkbox" :value="c" />
          {{ c === 'milestones' ? 'Milestones' : COPY_NAMES[c] }}
        </label>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <button class="btn pri">Copy</button>
          <button class="btn" type="button" @click="doing = null">Leave it</button>
        </div>
      </form>
      <form v-else-if="doing === 'merge'" @submit.prevent="doMerge">
        <h3>Merge into another project</h3>
        <p>
          Tasks, milestones, what was said and what is filed move over; phases of one name become
          one. This project is archived.
        </p>
        <div class="field">
          <label for="pm-into">Into</label>
          <select id="pm-into" v-model="into" class="inp" required>
            <option
              v-for="p in session.directory.projects.filter((x) => x.id !== project.id)"
              :key="p.id"
              :value="p.id"
            >
              {{ p.name }}
            </option>
          </select>
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <button class="btn pri" :disabled="!into">Merge</button>
          <button class="btn" type="button" @click="doing = null">Leave it</button>
        </div>
      </form>
      <form
        v-else-if="doing === 'states'"
        @submit.prevent="
          run(
            () => put(`${path}/states`, { setId: set, copy: own }),
            'The project has these states now.',
          )
        "
      >
        <h3>States of this project</h3>
        <div class="field">
          <label for="ps-set">A set of states</label>
          <select id="ps-set" v-model="set" class="inp">
            <option v-for="s in sets" :key="s.id" :value="s.id">
              {{ s.name }}: {{ s.states.map((x) => x.name).join(', ') }}
            </option>
          </select>
        </div>
        <label class="line">
          <input v-model="own" type="checkbox" />
          A copy of it, for this project alone (changed under Set up)
        </label>
        <p class="small quiet">
          Tasks go to the state of the same name, or the first of the same kind.
        </p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <button class="btn pri">Use it</button>
          <button class="btn" type="button" @click="doing = null">Leave it</button>
        </div>
      </form>
      <template v-else>
        <h3>Fields this project shows</h3>
        <p v-if="!fields.length" class="quiet">No custom fields yet; they are made under Set up.</p>
        <label v-for="f in fields" :key="f.id" class="line">
          <input
            type="checkbox"
            :checked="!project.hiddenFields.includes(f.id)"
            @change="
              post(`/fields/${f.id}/hide`, {
                projectId: project.id,
                hidden: !project.hiddenFields.includes(f.id),
              }).then(
                () => emit('changed'),
                (e) => (wrong = sentence(e)),
              )
            "
          />
          {{ f.name }}
        </label>
        <p class="small quiet">Values of a hidden field stay.</p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns"><button class="btn" @click="doing = null">Close</button></div>
      </template>
    </div>
  </v-dialog>
</template>

<style scoped>
.line {
  display: flex;
  gap: 7px;
  padding: 2px 0;
}
.btns {
  margin-top: 12px;
}
</style>
