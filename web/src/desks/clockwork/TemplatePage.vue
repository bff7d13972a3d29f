<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TemplateSheet } from '#contract/clockwork.ts'
import { put } from '#web/api/client.ts'
import { plural, sayMinutes } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import LoadState from '#web/parts/LoadState.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import { everythingWith } from '#web/state/everything.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { useKept } from './useKept.ts'
import ClockworkNav from './ClockworkNav.vue'
import TemplateTaskEdit from './TemplateTaskEdit.vue'
import TryIt from './TryIt.vue'
import TemplatePhaseRows from './TemplatePhaseRows.vue'
import { axisOf } from './axis.ts'
import {
  addPhase,
  changeTask,
  phaseOf,
  placeTask,
  removeTask,
  roleNamed,
  stepTask,
  tasksOf,
  type Draft,
} from './template-edits.ts'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { useForm, type Held } from '#web/forms/useForm.ts'
import { sayClash } from '#web/forms/words.ts'
import { shelfFor } from '#web/state/draft.ts'
import { useTitle } from '#web/state/title.ts'

const session = useSession()
const messages = useMessages()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useResource<TemplateSheet>(
  () => `/templates/${String(route.params['id'])}`,
  (c) => c.entities.includes('templates'),
  { keep: true },
)
const chosen = ref<string | null>(null)
/** The template that the address names; while another is on its way there is none. */
const sheet = computed(() => (String(data.value?.id) === route.params['id'] ? data.value : null))
const heldOf = ({ definition, version }: TemplateSheet): Held<Draft> => ({
  value: definition as unknown as Draft,
  version,
})
const form = useForm<Draft>({
  key: () => sheet.value && `template.${sheet.value.id}`,
  held: () => sheet.value && heldOf(sheet.value),
  async send(definition, seen) {
    const saved = await put<TemplateSheet>(
      `/templates/${sheet.value!.id}`,
      { definition },
      { seen },
    )
    data.value = saved
    return heldOf(saved)
  },
  again: () => reload(),
  shelf: shelfFor,
})
const { draft, dirty, busy, fault } = form
useUnsaved(dirty, 'This template', form.putBack)
const LABELS = {
  ...{ name: 'Name', anchor: 'Counted', phases: 'Phases', roles: 'Roles', tasks: 'Tasks' },
  ...{ title: 'Title', due: 'Due', start: 'Begins', effort: 'Effort', role: 'Role' },
  ...{
    description: 'Description',
    checklist: 'Checklist',
    reminders: 'Reminders',
    days: 'Days',
    after: 'After',
  },
}
/** Faults of a template name places deep in it: they are said above it. */
const faults = computed(() => [fault.value, ...Object.values(form.faults.value)].filter(Boolean))
const clashes = computed(() =>
  form.clashes.value.map((clash) => sayClash(draft.value, clash, LABELS)),
)

const may = computed(() => session.me?.may.structure ?? false)
const tasks = computed(() => (draft.value ? tasksOf(draft.value) : []))
const axis = computed(() => axisOf(tasks.value))
const effort = computed(() => tasks.value.reduce((sum, t) => sum + (t.effort ?? 0), 0))
const selected = computed(() => tasks.value.find((t) => t.key === chosen.value) ?? null)
function drop(key: string): void {
  removeTask(draft.value!, key)
  chosen.value = null
}
async function save(): Promise<void> {
  if (await form.save()) messages.say(`Saved as version ${data.value!.version}.`)
}
const kept = useKept('templates', reload)
useTitle(() => data.value?.definition.name)
</script>

<template>
  <main>
    <ClockworkNav>
      <template v-if="data && may">
        <v-btn :variant="dirty ? 'flat' : undefined" :disabled="!dirty || busy" @click="save">
          {{ dirty ? `Save as version ${data.version + 1}` : `Version ${data.version}, saved` }}
        </v-btn>
        <v-btn v-if="dirty" @click="form.putBack">Drop the changes</v-btn>
        <LineMenu
          label="More for this template"
          :lines="kept({ id: data.id, name: data.name, archived: data.archived })"
        />
      </template>
    </ClockworkNav>
    <div class="page tpl">
      <div class="sheet">
        <h1 class="sr">{{ data?.definition.name ?? 'Template' }}</h1>
        <LoadState v-if="!data || !draft" :error="error" @retry="reload" />
        <template v-else>
          <v-text-field
            v-model="draft.name"
            class="name seamless"
            aria-label="Name of the template"
            :readonly="!may"
            maxlength="120"
          />
          <p v-if="data.archived" class="ochre">
            Archived: nothing is started from it until it is brought back.
          </p>
          <div class="sub">
            <span>
              {{ plural(draft.phases.length, 'phase') }}, {{ plural(tasks.length, 'task') }}
            </span>
            <span>{{ plural(draft.roles?.length ?? 0, 'role') }}</span>
            <span>{{ sayMinutes(effort) }} effort</span>
            <v-btn variant="plain" class="auto" :to="everythingWith('template', data.id)">
              all its work
            </v-btn>
            <span>
              counted
              <TokenPick
                v-model="draft.anchor"
                :options="[
                  { value: 'deadline', name: 'back from the deadline' },
                  { value: 'start', name: 'on from the start' },
                ]"
                label="Anchor"
                :disabled="!may"
              />
            </span>
          </div>
          <p v-for="text in faults" :key="text" class="wrong" role="alert">{{ text }}</p>
          <div class="axis">
            <span></span>
            <span>Task</span>
            <span>Role</span>
            <span class="r">Effort</span>
            <div class="ticks">
              <span
                v-for="tick in axis.ticks"
                :key="tick.days"
                :class="{ z: tick.days === 0 }"
                :style="{ left: `${tick.at}%` }"
              >
                {{ tick.days === 0 ? (draft.anchor === 'deadline' ? 'Due' : 'Start') : tick.name }}
              </span>
            </div>
          </div>
          <TemplatePhaseRows
            v-for="phase in draft.phases"
            :key="phase.key"
            v-model:chosen="chosen"
            v-bind="{ draft, phase, axis, may }"
          />
          <v-btn v-if="may" style="margin-top: 12px" @click="addPhase(draft)">Add a phase</v-btn>
          <div v-if="!tasks.length" class="empty">
            <h3>No tasks yet</h3>
            <p>Add the steps in the order people do them; then give each its role and lead time.</p>
          </div>
        </template>
      </div>
      <MarginPane
        v-if="data && draft"
        :label="selected && may ? 'Task of the template' : 'Try it'"
        :opened="selected && may ? selected.key : null"
        @close="chosen = null"
      >
        <TemplateTaskEdit
          v-if="selected && may"
          :task="selected"
          :template="draft"
          :phase="phaseOf(draft, selected.key)!.key"
          @change="changeTask(draft, selected.key, $event)"
          @role="changeTask(draft, selected.key, { role: roleNamed(draft, $event) })"
          @phase="placeTask(draft, selected.key, $event)"
          @step="stepTask(draft, selected.key, $event)"
          @remove="drop(selected.key)"
          @close="chosen = null"
        />
        <TryIt v-else :template="data" :unsaved="dirty" @started="router.push(`/work/${$event}`)" />
      </MarginPane>
    </div>
    <ClashAsk :clashes="clashes" what="this template" @settle="(form.settle($event), save())" />
  </main>
</template>

<style scoped>
@import './template-axis.css';
.name {
  font: 500 27px/1.15 var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
}
.name:hover {
  border-color: var(--rule-strong);
}
.axis {
  height: 30px;
  border-bottom: 1.5px solid var(--ink);
  font-size: 11.5px;
  color: var(--ink-3);
  font-weight: 600;
}
.r {
  text-align: right;
}
.ticks {
  position: relative;
  height: 100%;
}
.ticks span {
  position: absolute;
  bottom: 3px;
  transform: translateX(-50%);
  white-space: nowrap;
}
.ticks .z {
  color: var(--alarm);
}
</style>
