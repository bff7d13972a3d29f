<script setup lang="ts">
import { ref } from 'vue'
import type { Milestone, ProjectSheet } from '#contract/projects.ts'
import { patch, post, remove } from '#web/api/client.ts'
import { withNone } from '#web/parts/choices.ts'
import DateField from '#web/parts/DateField.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { sayDate } from '#web/parts/say.ts'
import TypeIn from '#web/parts/TypeIn.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useProjectEdits } from './useProjectEdits.ts'

/** The milestones of a project: reached, moved, handed to somebody, set and removed. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { home, run } = useProjectEdits(
  () => props.project,
  () => emit('changed'),
)
const nothing = () => ({ name: '', date: null as string | null, ownerId: null as number | null })
const mile = ref(nothing())
async function addMile(): Promise<void> {
  const body = { ...mile.value, name: mile.value.name.trim(), done: false }
  if (await run(() => post(`${home()}/milestones`, body), 'The milestone is set.'))
    mile.value = nothing()
}
const at = ({ id }: Milestone) => `${home()}/milestones/${id}`
const editMile = (m: Milestone, change: object, text: string) =>
  run(() => patch(at(m), change), text)
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
const dropMile = (m: Milestone) => run(() => remove(at(m)), `“${m.name}” is removed.`)
const mayReach = (m: Milestone) => props.project.may.structure || m.owner?.id === session.me?.id
/** Who can own a milestone, and who does, though they have left. */
const ownersOf = ({ owner }: Milestone) => [
  ...withNone(session.active, 'nobody'),
  ...(owner && !session.active.some((p) => p.id === owner.id)
    ? [{ value: owner.id, title: `${owner.name}, has left` }]
    : []),
]
</script>

<template>
  <h2 class="section">Milestones</h2>
  <ul class="lines">
    <li v-for="m in project.milestones" :key="m.id" class="mile">
      <v-checkbox-btn
        :id="`m-${m.id}`"
        :model-value="m.doneAt !== null"
        :disabled="!mayReach(m)"
        :aria-label="`${m.name} is reached`"
        @update:model-value="reach(m)"
      />
      <template v-if="project.may.structure">
        <span class="mname" :class="{ ticked: m.doneAt }">
          <TypeIn
            class="seamless"
            :value="m.name"
            :label="`Name of the milestone ${m.name}`"
            :most="120"
            @typed="nameMile(m, $event)"
          />
        </span>
        <span :class="{ alarm: m.late }">
          <DateField
            class="seamless"
            :id="`md-${m.id}`"
            :model-value="m.date"
            :label="`Date of ${m.name}`"
            @update:model-value="moveMile(m, $event)"
          />
        </span>
        <v-autocomplete
          class="mo"
          :aria-label="`Owner of ${m.name}`"
          :model-value="m.owner?.id ?? null"
          @update:model-value="
            editMile(m, { ownerId: Number($event) || null }, 'The milestone has another owner.')
          "
          :items="ownersOf(m)"
        />
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
    <v-text-field
      v-model="mile.name"
      class="mn"
      maxlength="120"
      placeholder="Milestone"
      aria-label="Name of the milestone"
      required
    />
    <DateField id="mile-date" v-model="mile.date" label="Date of the milestone" />
    <v-autocomplete
      v-model="mile.ownerId"
      class="mo"
      aria-label="Owner of the milestone"
      :items="withNone(session.active, 'nobody')"
    />
    <v-btn type="submit">Set it</v-btn>
  </form>
</template>

<style scoped>
.alarm :deep(.v-input) {
  color: var(--alarm);
  font-weight: 600;
}
.ticked :deep(.v-input) {
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
.mn {
  width: 170px;
}
.mo {
  width: auto;
}
</style>
