<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { ref } from 'vue'
import type { Template, TemplateTask } from '#core/templates/template.ts'
import Glyph from '#web/parts/Glyph.vue'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { sayOffset } from './axis.ts'
import TimeField from '#web/parts/TimeField.vue'
import PlannedReminders from './PlannedReminders.vue'

/** One task of a template, in the margin; every edit goes into the unsaved version at once. */
defineProps<{
  task: TemplateTask
  template: Pick<Template, 'roles' | 'anchor'> & {
    phases: readonly { key: string; name: string }[]
  }
  phase: string
}>()
const emit = defineEmits<{
  change: [edit: Partial<TemplateTask>]
  role: [name: string]
  phase: [key: string]
  /** Past the task above or below. */
  step: [by: 1 | -1]
  remove: []
  close: []
}>()
const newRole = ref('')
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="head">
    <h3>Task in the template</h3>
    <v-btn variant="plain" aria-label="Close" @click="emit('close')">
      <Glyph :path="mdiClose" />
    </v-btn>
  </div>
  <div class="field">
    <label for="tt-title">Title</label>
    <v-text-field
      id="tt-title"
      :model-value="task.title"
      maxlength="200"
      @change="text($event).trim() && emit('change', { title: text($event).trim() })"
    />
  </div>
  <div class="field">
    <span class="label">Phase</span>
    <span>
      <TokenPick
        :model-value="phase"
        :options="template.phases.map((p) => ({ value: p.key, name: p.name }))"
        label="Phase"
        @update:model-value="emit('phase', $event)"
      />
    </span>
  </div>
  <div class="field">
    <span class="label">Role</span>
    <span>
      <TokenPick
        :model-value="task.role ?? ''"
        :options="[
          { value: '', name: 'nobody in particular' },
          ...(template.roles ?? []).map((r) => ({ value: r.key, name: r.name })),
        ]"
        label="Role"
        tone="person"
        @update:model-value="emit('change', { role: $event || undefined })"
      />
    </span>
    <form @submit.prevent="newRole.trim() && (emit('role', newRole.trim()), (newRole = ''))">
      <v-text-field
        v-model="newRole"
        placeholder="or a new role, press Enter"
        aria-label="New role"
        maxlength="80"
      />
    </form>
  </div>
  <div class="two">
    <div class="field">
      <span class="label">Due, days from the {{ template.anchor }}</span>
      <NumberField
        :model-value="task.due.days"
        :label="`Due, days from the ${template.anchor}`"
        :min="-10000"
        :max="10000"
        @update:model-value="
          $event !== null && emit('change', { due: { ...task.due, days: $event } })
        "
      />
    </div>
    <div class="field">
      <span class="label">Begins, days from it</span>
      <NumberField
        :model-value="task.start?.days ?? null"
        label="Begins, days from it"
        :min="-10000"
        :max="10000"
        empty
        @update:model-value="
          emit('change', { start: $event === null ? undefined : { days: $event, unit: 'working' } })
        "
      />
    </div>
    <div class="field">
      <span class="label">Counted in</span>
      <span>
        <TokenPick
          :model-value="task.due.unit ?? 'working'"
          :options="[
            { value: 'working', name: 'working days' },
            { value: 'calendar', name: 'calendar days' },
          ]"
          label="Unit"
          tone="value"
          @update:model-value="emit('change', { due: { ...task.due, unit: $event } })"
        />
      </span>
    </div>
    <div class="field">
      <label for="tt-time">At a time</label>
      <TimeField
        id="tt-time"
        :model-value="task.due.time ?? null"
        @update:model-value="
          emit('change', { due: { ...task.due, time: ($event ?? undefined) as never } })
        "
      />
    </div>
    <div class="field">
      <span class="label">Effort, minutes</span>
      <NumberField
        :model-value="task.effort ?? null"
        label="Effort, minutes"
        :max="60000"
        empty
        @update:model-value="emit('change', { effort: $event ?? undefined })"
      />
    </div>
  </div>
  <p class="small quiet">Due {{ sayOffset(task.due, template.anchor) }}.</p>
  <div class="field">
    <label for="tt-list">Checklist, a line each</label>
    <v-textarea
      id="tt-list"
      rows="4"
      :model-value="(task.checklist ?? []).join('\n')"
      @change="
        emit('change', {
          checklist: text($event)
            .split('\n')
            .map((l) => l.trim())
            .filter(Boolean),
        })
      "
    />
  </div>
  <PlannedReminders
    :model-value="task.reminders ?? []"
    @update:model-value="emit('change', { reminders: $event })"
  />
  <div class="field">
    <label for="tt-desc">Description</label>
    <v-textarea
      id="tt-desc"
      rows="3"
      :model-value="task.description ?? ''"
      maxlength="20000"
      @change="emit('change', { description: text($event) })"
    />
  </div>
  <div class="btns">
    <v-btn @click="emit('step', -1)">Up by one</v-btn>
    <v-btn @click="emit('step', 1)">Down by one</v-btn>
  </div>
  <v-btn color="error" @click="emit('remove')">Remove from the template</v-btn>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  margin-bottom: 10px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 10px;
  align-items: end;
}
form {
  margin-top: 4px;
}
</style>
