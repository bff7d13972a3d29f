<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { HEALTH_NAMES, HEALTHS, type Health } from '#contract/words.ts'
import type { Milestone, ProjectPatch, ProjectSheet } from '#contract/projects.ts'
import { call, patch, post, put, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import FileList from '#web/parts/FileList.vue'
import { sayDate, sayInstant } from '#web/parts/say.ts'
import TypeIn from '#web/parts/TypeIn.vue'
import { useDraft } from '#web/state/draft.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import HealthMark from './HealthMark.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'

const RichText = defineAsyncComponent(() => import('#web/parts/RichText.vue'))

/**
 * What a project is about: description, health, phases, milestones, what is said, what is filed.
 */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const member = computed(() => session.me?.may.member === true)
const home = computed(() => `/projects/${props.project.id}`)
async function run(work: () => Promise<unknown>, said: string): Promise<boolean> {
  try {
    messages.did(said, await work())
    emit('changed')
    return true
  } catch (error) {
    messages.fault(sentence(error))
    return false
  }
}
/** Edits go one after the other: each starts from the version that the one before it made. */
let line: Promise<unknown> = Promise.resolve()
let version = props.project.version
watch(
  () => props.project.version,
  (now) => (version = now),
)
function edit(change: ProjectPatch, said: string): Promise<boolean> {
  const turn = line.then(() =>
    run(async () => {
      const done = await patch<ProjectSheet>(home.value, change, { seen: version })
      version = done.version
      return done
    }, said),
  )
  line = turn
  return turn
}

const about = ref(props.project.description)
/** The description as it was when this writing of it began. */
const aboutBase = ref(props.project.description)
// What somebody is writing stays, whatever arrives.
watch(
  () => props.project.description,
  (now) => {
    if (about.value === aboutBase.value) about.value = now
    if (about.value === now) aboutBase.value = now
  },
)
/** Somebody else changed it in the meantime: whose stands is asked, never decided silently. */
const clash = ref(false)
function keepAbout(): void {
  const now = props.project.description
  clash.value = about.value !== now && aboutBase.value !== now
  if (about.value !== now && !clash.value) void saveAbout()
}
async function saveAbout(): Promise<void> {
  const text = about.value
  if (!(await edit({ description: text }, 'The description is saved.'))) return
  aboutBase.value = text
  clash.value = false
}
function takeTheirs(): void {
  about.value = aboutBase.value = props.project.description
  clash.value = false
}
// Going elsewhere without leaving the field first loses nothing either.
onBeforeUnmount(keepAbout)

const judging = ref<Health | ''>('')
const reason = ref('')
async function judge(): Promise<void> {
  if (
    await edit(
      { health: judging.value || null, healthReason: reason.value },
      judging.value
        ? `It stands “${HEALTH_NAMES[judging.value]}” now.`
        : 'Its dates say how it stands.',
    )
  )
    judging.value = ''
}

const phases = ref<{ id?: number; name: string }[]>([])
const plainly = (list: readonly { id?: number; name: string }[]) =>
  list.map(({ id, name }) => ({ ...(id !== undefined && { id }), name }))
watch(
  () => props.project.phases,
  (now, before) => {
    if (!before || JSON.stringify(plainly(phases.value)) === JSON.stringify(plainly(before)))
      phases.value = plainly(now)
  },
  { immediate: true },
)
const phasesChanged = computed(
  () => JSON.stringify(plainly(phases.value)) !== JSON.stringify(plainly(props.project.phases)),
)
const savePhases = () =>
  run(async () => {
    const done = await put<ProjectSheet>(`${home.value}/phases`, {
      phases: phases.value.filter((p) => p.name.trim()),
    })
    phases.value = plainly(done.phases)
    await session.read()
    return done
  }, 'The phases are saved.')
function shift(index: number, by: number): void {
  const next = [...phases.value]
  const [moved] = next.splice(index, 1)
  next.splice(Math.max(0, index + by), 0, moved!)
  phases.value = next
}

const mile = ref({ name: '', date: null as string | null, ownerId: null as number | null })
async function addMile(): Promise<void> {
  if (
    await run(
      () =>
        post(`${home.value}/milestones`, {
          ...mile.value,
          name: mile.value.name.trim(),
          done: false,
        }),
      'The milestone is set.',
    )
  )
    mile.value = { name: '', date: null, ownerId: null }
}
const editMile = (m: Milestone, change: object, text: string) =>
  run(() => patch(`${home.value}/milestones/${m.id}`, change), text)
const reach = (m: Milestone) =>
  editMile(
    m,
    { done: m.doneAt === null },
    m.doneAt === null ? `“${m.name}” is reached.` : `“${m.name}” is open again.`,
  )
const moveMile = (m: Milestone, date: string | null) =>
  editMile(
    m,
    { date },
    date ? `“${m.name}” moved to ${sayDate(date, session.today)}.` : `“${m.name}” has no date now.`,
  )
const nameMile = (m: Milestone, name: string) =>
  name.trim()
    ? editMile(m, { name: name.trim() }, 'The milestone is renamed.')
    : messages.fault('A milestone needs a name.')
const dropMile = (m: Milestone) =>
  run(() => call('DELETE', `${home.value}/milestones/${m.id}`), `“${m.name}” is removed.`)
const mayReach = (m: Milestone) => props.project.may.structure || m.owner?.id === session.me?.id

const said = useDraft(`post.${props.project.id}`)
const status = ref<Health | ''>('')
async function say(): Promise<void> {
  if (
    await run(
      () => post(`${home.value}/posts`, { body: said.value, health: status.value || null }),
      status.value ? 'The status update is out.' : 'It is said.',
    )
  ) {
    said.value = ''
    status.value = ''
  }
}
const rewording = ref<number | null>(null)
const reworded = ref('')
async function reword(post: number): Promise<void> {
  if (
    await run(
      () => put(`${home.value}/posts/${post}`, { body: reworded.value }),
      reworded.value.trim() ? 'It is reworded.' : 'It is taken away.',
    )
  )
    rewording.value = null
}
const openTask = (id: number) =>
  router.push({ path: `/work/${props.project.id}`, query: { task: String(id) } })
</script>

<template>
  <div class="about">
    <div class="col">
      <h2 class="section">What it is about</h2>
      <RichText
        v-model="about"
        label="Description of the project"
        placeholder="What it is for, and when it is done"
        :readonly="!member"
        @leave="keepAbout"
      />
      <div v-if="clash" class="note" role="alert">
        <p class="small">
          <b>Somebody else changed the description while you wrote. Now it says:</b>
        </p>
        <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
        <div class="rich" v-html="project.description" />
        <p class="btns">
          <button class="btn pri" @click="saveAbout">Keep mine</button>
          <button class="btn" @click="takeTheirs">Take theirs</button>
        </p>
      </div>
      <h2 class="section">How it stands</h2>
      <p class="stand">
        <HealthMark :health="project.health" />
        {{ project.health.reason }}
        <span class="quiet small">
          {{ project.health.byHand ? 'Set by hand.' : 'Judged by its dates.' }}
        </span>
      </p>
      <form v-if="member" class="btns" @submit.prevent="judge">
        <select v-model="judging" class="inp" aria-label="Set how it stands">
          <option value="">by its dates</option>
          <option v-for="h in HEALTHS" :key="h" :value="h">{{ HEALTH_NAMES[h] }}</option>
        </select>
        <input
          v-if="judging"
          v-model="reason"
          class="inp why"
          maxlength="500"
          placeholder="Why, in a few words"
          aria-label="Why"
          required
        />
        <button class="btn" :disabled="!judging && !project.health.byHand">Set</button>
      </form>
      <h2 class="section">Phases</h2>
      <ol class="plainlist">
        <li v-for="(p, i) in phases" :key="p.id ?? `new${i}`">
          <input
            v-model="p.name"
            class="inp"
            maxlength="80"
            :readonly="!project.may.structure"
            :aria-label="`Name of phase ${i + 1}`"
          />
          <template v-if="project.may.structure">
            <button class="x" :aria-label="`${p.name} earlier`" @click="shift(i, -1)">↑</button>
            <button class="x" :aria-label="`${p.name} later`" @click="shift(i, 1)">↓</button>
            <RemoveButton
              :aria-label="`Remove ${p.name}`"
              @click="phases = phases.filter((_, n) => n !== i)"
            />
          </template>
        </li>
      </ol>
      <p v-if="project.may.structure" class="btns">
        <button class="btn" @click="phases.push({ name: '' })">Add a phase</button>
        <button v-if="phasesChanged" class="btn pri" @click="savePhases">Save the phases</button>
        <span v-if="phasesChanged" class="small quiet">
          Tasks of a removed phase stay, in no phase.
        </span>
      </p>
      <h2 class="section">Milestones</h2>
      <ul class="plainlist">
        <li v-for="m in project.milestones" :key="m.id" class="mile">
          <input
            :id="`m-${m.id}`"
            type="checkbox"
            :checked="m.doneAt !== null"
            :disabled="!mayReach(m)"
            :aria-label="`${m.name} is reached`"
            @change="reach(m)"
          />
          <template v-if="project.may.structure">
            <span class="mname" :class="{ ticked: m.doneAt }">
              <TypeIn
                :value="m.name"
                :label="`Name of the milestone ${m.name}`"
                :most="120"
                @typed="nameMile(m, $event)"
              />
            </span>
            <span :class="{ alarm: m.late }">
              <DateField
                :id="`md-${m.id}`"
                :model-value="m.date"
                terse
                :label="`Date of ${m.name}`"
                @update:model-value="moveMile(m, $event)"
              />
            </span>
            <select
              class="inp mo"
              :aria-label="`Owner of ${m.name}`"
              :value="m.owner?.id ?? ''"
              @change="
                editMile(
                  m,
                  { ownerId: Number(($event.target as HTMLSelectElement).value) || null },
                  'The milestone has another owner.',
                )
              "
            >
              <option value="">nobody</option>
              <option v-for="p in session.active" :key="p.id" :value="p.id">{{ p.name }}</option>
              <option
                v-if="m.owner && !session.active.some((p) => p.id === m.owner!.id)"
                :value="m.owner.id"
              >
                {{ m.owner.name }}, has left
              </option>
            </select>
            <RemoveButton :aria-label="`Remove ${m.name}`" @click="dropMile(m)" />
          </template>
          <template v-else>
            <label :for="`m-${m.id}`" class="mname" :class="{ ticked: m.doneAt }">
              {{ m.name }}
            </label>
            <span class="small" :class="{ alarm: m.late }">
              {{ m.date ? sayDate(m.date, session.today) : 'no date' }}
            </span>
            <span class="small quiet">{{ m.owner?.name ?? 'nobody' }}</span>
          </template>
        </li>
      </ul>
      <p v-if="!project.milestones.length" class="small quiet">
        None yet: a milestone is a date that something must be reached by.
      </p>
      <form v-if="project.may.structure" class="btns" @submit.prevent="addMile">
        <input
          v-model="mile.name"
          class="inp mn"
          maxlength="120"
          placeholder="Milestone"
          aria-label="Name of the milestone"
          required
        />
        <DateField id="mile-date" v-model="mile.date" terse label="Date of the milestone" />
        <select v-model="mile.ownerId" class="inp mo" aria-label="Owner of the milestone">
          <option :value="null">nobody</option>
          <option v-for="p in session.active" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select>
        <button class="btn">Set it</button>
      </form>
    </div>
    <div class="col">
      <h2 class="section">What is said</h2>
      <form v-if="member" class="say" @submit.prevent="say">
        <RichText
          v-model="said"
          label="Say something about the project"
          placeholder="Write to everyone on the project"
          @send="say"
        />
        <p class="btns">
          <select v-model="status" class="inp st" aria-label="As a status update">
            <option value="">a word to everyone</option>
            <option v-for="h in HEALTHS" :key="h" :value="h">status: {{ HEALTH_NAMES[h] }}</option>
          </select>
          <button class="btn pri" :disabled="!said.trim()">Say it</button>
        </p>
      </form>
      <div v-for="o in project.posts" :key="o.id" class="note">
        <div class="k">
          <span>
            {{ o.author?.name ?? 'Fernwick' }}
            <HealthMark
              v-if="o.health"
              :health="{ value: o.health, reason: 'In this update.', byHand: true }"
            />
          </span>
          <span>
            {{ sayInstant(o.at, session.today, session.me!.zone) }}
            <button
              v-if="o.mine"
              class="auto edit"
              @click="((rewording = o.id), (reworded = o.body))"
            >
              reword
            </button>
          </span>
        </div>
        <template v-if="rewording === o.id">
          <RichText v-model="reworded" label="What was said, reworded" @send="reword(o.id)" />
          <p class="btns">
            <button class="btn pri" @click="reword(o.id)">Save</button>
            <button class="btn" @click="rewording = null">Leave it</button>
            <span class="small quiet">Emptied, it is removed.</span>
          </p>
        </template>
        <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
        <div v-else class="rich" v-html="o.body" />
      </div>
      <p v-if="!project.posts.length" class="small quiet">Nothing yet.</p>
      <h2 class="section">
        Files and links
        <span>of the project and all its tasks</span>
      </h2>
      <FileList
        :files="project.files"
        :home="home"
        :may="member"
        @changed="emit('changed')"
        @open="openTask"
      />
    </div>
  </div>
</template>

<style scoped>
.about {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 32px;
  padding: 0 20px 30px;
  overflow-y: auto;
  height: 100%;
}
.col {
  min-width: 0;
}
.stand {
  margin: 6px 0;
}
.why {
  width: 220px;
}
.inp[aria-label='Set how it stands'] {
  width: auto;
}
.plainlist {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
.plainlist li {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 2px 0;
  border-bottom: 1px solid var(--rule);
}
.plainlist li :deep(.inp) {
  border-color: transparent;
  background: none;
}
.plainlist li :deep(.inp:hover),
.plainlist li :deep(.inp:focus) {
  border-color: var(--rule-strong);
  background: var(--sheet);
}
.alarm :deep(.inp) {
  color: var(--alarm);
  font-weight: 600;
}
.ticked :deep(.inp) {
  text-decoration: line-through;
  color: var(--ink-3);
}
.mile.mile {
  flex-wrap: wrap;
}
.mname {
  flex: 1;
  min-width: 90px;
}
.edit {
  margin-left: 8px;
}
.ticked {
  text-decoration: line-through;
  color: var(--ink-3);
}
.mile input {
  accent-color: var(--fern);
  width: 16px;
  height: 16px;
}
.mn {
  width: 170px;
}
.mo,
.st {
  width: auto;
}
.say {
  display: grid;
  gap: 6px;
  margin: 6px 0;
}
.section {
  margin-bottom: 6px;
}
@media (max-width: 900px) {
  .about {
    grid-template-columns: 1fr;
    height: auto;
  }
}
</style>
