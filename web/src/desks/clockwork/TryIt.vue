<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Filling, TemplateSheet, TryResult } from '#contract/clockwork.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import { post, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { DAY_MS } from '#web/parts/days.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import RoleFill from './RoleFill.vue'
import { useUsual } from './useUsual.ts'
import { withNone } from '#web/parts/choices.ts'

/** The saved template on real dates: who and when, what to know before starting, and Start. */
const props = defineProps<{ template: TemplateSheet; unsaved: boolean }>()
const emit = defineEmits<{ started: [projectId: number] }>()
const session = useSession()
const clientId = ref<number | null>(null)
const anchor = ref<string | null>(
  new Date(
    Date.parse(session.today) + (props.template.definition.anchor === 'deadline' ? 28 : 1) * DAY_MS,
  )
    .toISOString()
    .slice(0, 10),
)
const roles = ref<Record<string, Filling | undefined>>({})
useUsual(clientId, roles, () => props.template.definition.roles ?? [])
const name = ref('')
const named = ref(false)
const result = ref<TryResult | null>(null)
const wrong = ref('')
const busy = ref(false)
const all = ref(false)
const client = computed(() => session.directory.clients.find((c) => c.id === clientId.value))
watch(
  [client, anchor],
  () => {
    if (!named.value)
      name.value = client.value
        ? `${client.value.short}, ${props.template.definition.name.toLowerCase()}`
        : props.template.definition.name
  },
  { immediate: true },
)
const filled = computed(() =>
  Object.fromEntries(
    Object.entries(roles.value).filter(
      ([key, f]) => f && props.template.definition.roles?.some((r) => r.key === key),
    ),
  ),
)
let key = crypto.randomUUID()

const lay = useDebounceFn(async () => {
  if (!anchor.value) return
  try {
    result.value = await post<TryResult>(
      `/templates/${props.template.id}/try`,
      {
        clientId: clientId.value,
        anchor: anchor.value,
        roles: filled.value,
      },
      { asks: true },
    )
    wrong.value = ''
  } catch (error) {
    wrong.value = sentence(error)
  }
}, 150)
watch(
  [clientId, anchor, filled, () => props.template.version],
  () => {
    key = crypto.randomUUID()
    void lay()
  },
  { immediate: true, deep: true },
)

async function start(): Promise<void> {
  busy.value = true
  try {
    const made = await post<ProjectSheet>(
      `/templates/${props.template.id}/start`,
      {
        name: name.value.trim(),
        clientId: clientId.value,
        anchor: anchor.value,
        roles: filled.value,
      },
      { once: key },
    )
    emit('started', made.id)
  } catch (error) {
    wrong.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const shown = computed(() =>
  all.value ? (result.value?.findings ?? []) : (result.value?.findings ?? []).slice(0, 6),
)
</script>

<template>
  <h3>Try it on real dates</h3>
  <div class="fld">
    <label for="try-client">Client</label>
    <v-autocomplete
      id="try-client"
      v-model="clientId"
      :items="withNone(session.directory.clients, 'none')"
    />
  </div>
  <div class="fld">
    <label for="try-anchor">
      {{ template.definition.anchor === 'deadline' ? 'Deadline' : 'Start' }}
    </label>
    <DateField id="try-anchor" v-model="anchor" />
  </div>
  <div v-for="role in template.definition.roles" :key="role.key" class="fld">
    <label :for="`try-${role.key}`">{{ role.name }}</label>
    <RoleFill :id="`try-${role.key}`" v-model="roles[role.key]" />
  </div>
  <h3 class="gap">Before you start it</h3>
  <p v-if="unsaved" class="note ochre">
    You have changes that are not saved; this shows version {{ template.version }}.
  </p>
  <p v-if="wrong" class="note wrong" role="alert">{{ wrong }}</p>
  <div v-for="(f, i) in shown" :key="i" class="note">
    <b :class="f.tone">{{ f.label }}</b>
    {{ f.sentence }}
  </div>
  <v-btn variant="text" v-if="result && result.findings.length > 6" @click="all = !all">
    {{ all ? 'Show fewer' : `Show all ${result.findings.length}` }}
  </v-btn>
  <p v-if="result?.first" class="note">
    {{ plural(result.tasks.length, 'task') }} from
    <b>{{ sayDate(result.first, session.today) }}</b>
    to
    <b>{{ sayDate(result.last!, session.today) }}.</b>
    <template v-if="!result.findings.length">Nothing stands in the way.</template>
  </p>
  <div class="field">
    <label for="try-name">Name of the project</label>
    <v-text-field id="try-name" v-model="name" maxlength="160" @input="named = true" />
  </div>
  <div class="btns">
    <v-btn
      variant="flat"
      :disabled="busy || !anchor || !name.trim() || !template.tasks"
      @click="start"
    >
      Start it now
    </v-btn>
    <v-btn
      v-if="session.me?.may.structure"
      :to="`/clockwork/series/new?template=${template.id}${clientId ? `&client=${clientId}` : ''}`"
    >
      Make it a series
    </v-btn>
  </div>
</template>

<style scoped>
.fld {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
  align-items: center;
  gap: 6px;
  margin-bottom: 8px;
  color: var(--ink-2);
}
h3 {
  margin-bottom: 10px;
}
.gap {
  margin-top: 18px;
}
</style>
