<script setup lang="ts">
import { computed } from 'vue'
import { usualFor } from '#core/people/usual.ts'
import type { ClientPage } from '#contract/clients.ts'
import type { TemplateSummary, TemplateSheet } from '#contract/clockwork.ts'
import type { Makes } from '#contract/series.ts'
import { PERIOD_LIST } from '#web/parts/choices.ts'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import RoleFill from './RoleFill.vue'
import LineMenu from '#web/parts/LineMenu.vue'
import PlannedReminders from './PlannedReminders.vue'

/** What a series makes each time: a project from a template, or a task. */
const makes = defineModel<Makes>({ required: true })
const session = useSession()
const { data: templates } = useResource<TemplateSummary[]>(
  () => '/templates',
  (c) => c.entities.includes('templates'),
)
const { data: template } = useResource<TemplateSheet>(
  () => (makes.value.kind === 'project' ? `/templates/${makes.value.templateId}` : null),
  (c) => c.entities.includes('templates'),
)
const { data: client } = useResource<ClientPage>(
  () =>
    makes.value.kind === 'project' && makes.value.clientId !== null
      ? `/clients/${makes.value.clientId}`
      : null,
  (c) => c.entities.includes('clientRoles'),
)
/** Who fills a role that is left open, each time: whoever usually does so for the client. */
const usual = computed(() => {
  const [roles, people] = [template.value?.definition.roles ?? [], client.value?.usual ?? []]
  const name = (id: number) => people.find(({ personId }) => personId === id)?.name ?? ''
  return new Map([...usualFor(roles, people)].map(([role, id]) => [role, name(id)]))
})
const set = (edit: object) => (makes.value = { ...makes.value, ...edit } as Makes)
const kinds = computed(() => [
  { value: 'task' as const, name: 'a task' },
  ...(templates.value?.length ? [{ value: 'project' as const, name: 'a project' }] : []),
])
function kind(to: 'task' | 'project'): void {
  const { clientId, period } = makes.value
  if (to === makes.value.kind) return
  makes.value =
    to === 'task'
      ? {
          kind: 'task',
          title: '',
          description: '',
          clientId,
          projectId: null,
          assignees: [session.me!.id],
          estimate: null,
          checklist: [],
          period,
        }
      : {
          kind: 'project',
          templateId: templates.value![0]!.id,
          clientId,
          leadId: session.me!.id,
          roles: {},
          name: `{client}, ${templates.value![0]!.name.toLowerCase()} {period: MMMM yyyy}`,
          period,
        }
}
const people = computed(() => (makes.value.kind === 'task' ? makes.value.assignees : []))
const toggle = (id: number) =>
  set({
    assignees: people.value.includes(id)
      ? people.value.filter((p) => p !== id)
      : [...people.value, id],
  })
const WHICH = [
  { value: 'before', name: 'before its date' },
  { value: 'same', name: 'of its date' },
  { value: 'after', name: 'after its date' },
] as const
const names = computed(
  () =>
    people.value
      .map((id) => session.directory.people.find((p) => p.id === id)?.name ?? String(id))
      .join(', ') || 'nobody',
)
</script>

<template>
  <h2 class="section">What it makes</h2>
  <p class="line">
    Makes
    <TokenPick
      :model-value="makes.kind"
      :options="kinds"
      label="What it makes"
      @update:model-value="kind"
    />
    <template v-if="makes.kind === 'project'">
      from
      <TokenPick
        :model-value="makes.templateId"
        :options="(templates ?? []).map((t) => ({ value: t.id, name: t.name }))"
        label="Template"
        tone="value"
        @update:model-value="set({ templateId: $event, roles: {} })"
      />
    </template>
    for
    <TokenPick
      :model-value="makes.clientId ?? 0"
      :options="[
        { value: 0, name: 'no client' },
        ...session.directory.clients.map((c) => ({ value: c.id, name: c.short })),
      ]"
      label="Client"
      tone="value"
      @update:model-value="set({ clientId: $event || null })"
    />
    <template v-if="makes.kind === 'project'">
      led by
      <TokenPick
        :model-value="makes.leadId ?? 0"
        :options="[
          { value: 0, name: 'nobody' },
          ...session.active.map((p) => ({ value: p.id, name: p.name })),
        ]"
        label="Lead"
        tone="person"
        @update:model-value="set({ leadId: $event || null })"
      />
    </template>
  </p>
  <div class="field">
    <label for="sm-name">
      {{ makes.kind === 'project' ? 'Name of each project' : 'Title of each task' }}
    </label>
    <v-text-field
      v-if="makes.kind === 'project'"
      id="sm-name"
      :model-value="makes.name"
      maxlength="160"
      required
      @input="set({ name: ($event.target as HTMLInputElement).value })"
    />
    <v-text-field
      v-else
      id="sm-name"
      :model-value="makes.title"
      maxlength="200"
      required
      @input="set({ title: ($event.target as HTMLInputElement).value })"
    />
    <span class="small quiet">{client}, {date: d MMMM} and {period: MMMM yyyy} are filled in.</span>
  </div>
  <p class="line">
    It serves the
    <TokenPick
      :model-value="makes.period.of"
      :options="PERIOD_LIST"
      label="Period"
      tone="value"
      @update:model-value="set({ period: { ...makes.period, of: $event } })"
    />
    <TokenPick
      :model-value="makes.period.which"
      :options="WHICH"
      label="Which period"
      tone="value"
      @update:model-value="set({ period: { ...makes.period, which: $event } })"
    />
  </p>
  <template v-if="makes.kind === 'project'">
    <div v-for="role in template?.definition.roles" :key="role.key" class="fld">
      <label :for="`sm-${role.key}`">
        {{ role.name }}
        <span v-if="!makes.roles[role.key] && usual.get(role.key)" class="quiet">
          as usual for it: {{ usual.get(role.key) }}
        </span>
      </label>
      <RoleFill
        :id="`sm-${role.key}`"
        :model-value="makes.roles[role.key]"
        @update:model-value="
          set({
            roles: Object.fromEntries(
              Object.entries({ ...(makes as any).roles, [role.key]: $event }).filter(([, f]) => f),
            ),
          })
        "
      />
    </div>
  </template>
  <template v-else>
    <p class="line">
      On it
      <LineMenu
        label="Who it is for"
        several
        :lines="
          session.active.map((p) => ({
            name: p.name,
            on: people.includes(p.id),
            run: () => toggle(p.id),
          }))
        "
      >
        <template #default="{ props }">
          <v-btn v-bind="props">{{ names }}</v-btn>
        </template>
      </LineMenu>
      , estimated
      <NumberField
        :model-value="makes.estimate"
        label="Estimate, minutes"
        :max="60000"
        empty
        @update:model-value="set({ estimate: $event })"
      />
      minutes
    </p>
    <div class="field">
      <label for="sm-list">Checklist, a line each</label>
      <v-textarea
        id="sm-list"
        rows="2"
        :model-value="makes.checklist.join('\n')"
        @change="
          set({
            checklist: ($event.target as HTMLTextAreaElement).value
              .split('\n')
              .map((l) => l.trim())
              .filter(Boolean),
          })
        "
      />
    </div>
    <PlannedReminders
      :model-value="makes.reminders ?? []"
      @update:model-value="set({ reminders: $event })"
    />
  </template>
</template>

<style scoped>
.line {
  margin: 8px 0;
}
.fld {
  display: grid;
  grid-template-columns: 140px minmax(0, 280px);
  gap: 8px;
  align-items: center;
  margin-bottom: 7px;
}
</style>
