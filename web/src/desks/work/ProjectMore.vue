<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { COPIES, COPY_NAMES } from '#contract/words.ts'
import type { CloneBody, ProjectSheet } from '#contract/projects.ts'
import type { StateSetSheet } from '#contract/setup.ts'
import { get, patch, post, put, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { withNone } from '#web/parts/choices.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'

/**
 * What can be done with a whole project: copy, finish, archive, merge, its name and people, its
 * states and fields.
 */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
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
  await attempt(async () => {
    if (what === 'states') sets.value = await get<StateSetSheet[]>('/state-sets')
    doing.value = what
  })
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
const lines = computed((): (MenuLine | false)[] => {
  const { closedAt, archivedAt, id } = props.project
  return [
    shape.value && { name: 'Name, client, lead, date…', run: () => begin('edit') },
    { name: 'Copy…', run: () => begin('copy') },
    { name: 'Its journal', to: { path: '/work/journal', query: { project: id } } },
    shape.value &&
      (closedAt === null
        ? { name: 'Finish', run: () => toggle('closed', true, 'The project is finished.') }
        : { name: 'Run again', run: () => toggle('closed', false, 'The project runs again.') }),
    shape.value &&
      (archivedAt === null
        ? { name: 'Archive', run: () => toggle('archived', true, 'The project is archived.') }
        : { name: 'Bring back', run: () => toggle('archived', false, 'The project is back.') }),
    shape.value && { name: 'Merge into another…', run: () => begin('merge') },
    ...(session.me?.may.structure
      ? [
          { name: 'States…', run: () => begin('states') },
          { name: 'Fields…', run: () => begin('fields') },
        ]
      : []),
  ]
})
const show = (field: number, shown: boolean) =>
  post(`/fields/${field}/hide`, { projectId: props.project.id, hidden: !shown }).then(
    () => emit('changed'),
    (e: unknown) => (wrong.value = sentence(e)),
  )
</script>

<template>
  <LineMenu label="More for this project" :lines="lines" />
  <v-dialog :model-value="doing !== null" max-width="480" @update:model-value="doing = null">
    <div v-if="doing" class="dialog">
      <form
        v-if="doing === 'edit'"
        @submit.prevent="run(() => patch(path, basics, { seen: project.version }), 'Saved.')"
      >
        <h3>The project</h3>
        <div class="field">
          <label for="pe-name">Name</label>
          <v-text-field id="pe-name" v-model="basics.name" maxlength="120" required />
        </div>
        <div class="field">
          <label for="pe-client">Client</label>
          <v-autocomplete
            id="pe-client"
            v-model="basics.clientId"
            :items="withNone(session.directory.clients, 'none')"
          />
        </div>
        <div class="field">
          <label for="pe-lead">Lead</label>
          <v-autocomplete
            id="pe-lead"
            v-model="basics.leadId"
            :items="withNone(session.active, 'nobody')"
          />
        </div>
        <div class="field">
          <label for="pe-date">Date it counts from or to</label>
          <DateField id="pe-date" v-model="basics.anchor" />
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <v-btn type="submit" variant="flat">Save</v-btn>
          <v-btn @click="doing = null">Leave it</v-btn>
        </div>
      </form>
      <form v-else-if="doing === 'copy'" @submit.prevent="doCopy">
        <h3>Copy the project</h3>
        <div class="field">
          <label for="pc-name">Name of the copy</label>
          <v-text-field id="pc-name" v-model="copy.name" maxlength="120" required />
        </div>
        <div class="field">
          <label for="pc-date">Its date; every other date keeps its distance in working days</label>
          <DateField id="pc-date" v-model="copy.anchor" />
        </div>
        <p class="small label">What goes along, besides phases and tasks</p>
        <v-checkbox
          v-for="c in [...COPIES, 'milestones' as const]"
          :key="c"
          v-model="copy.take"
          :value="c"
          :label="c === 'milestones' ? 'Milestones' : COPY_NAMES[c]"
        />
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <v-btn type="submit" variant="flat">Copy</v-btn>
          <v-btn @click="doing = null">Leave it</v-btn>
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
          <v-autocomplete
            id="pm-into"
            v-model="into"
            required
            :items="session.directory.projects.filter((x) => x.id !== project.id)"
            item-value="id"
            item-title="name"
          />
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <v-btn type="submit" variant="flat" :disabled="!into">Merge</v-btn>
          <v-btn @click="doing = null">Leave it</v-btn>
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
          <v-select
            id="ps-set"
            v-model="set"
            :items="
              sets.map((s) => ({
                value: s.id,
                title: `${s.name}: ${s.states.map((x) => x.name).join(', ')}`,
              }))
            "
          />
        </div>
        <v-checkbox
          v-model="own"
          label="A copy of it, for this project alone (changed under Set up)"
        />
        <p class="small quiet">
          Tasks go to the state of the same name, or the first of the same kind.
        </p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns">
          <v-btn type="submit" variant="flat">Use it</v-btn>
          <v-btn @click="doing = null">Leave it</v-btn>
        </div>
      </form>
      <template v-else>
        <h3>Fields this project shows</h3>
        <p v-if="!fields.length" class="quiet">No custom fields yet; they are made under Set up.</p>
        <v-checkbox
          v-for="f in fields"
          :key="f.id"
          :model-value="!project.hiddenFields.includes(f.id)"
          :label="f.name"
          @update:model-value="show(f.id, $event === true)"
        />
        <p class="small quiet">Values of a hidden field stay.</p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div class="btns"><v-btn @click="doing = null">Close</v-btn></div>
      </template>
    </div>
  </v-dialog>
</template>

<style scoped>
.btns {
  margin-top: 12px;
}
</style>
