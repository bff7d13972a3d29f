<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import type { Audience } from '#contract/words.ts'
import { AUDIENCE_LIST } from '#web/desks/access/words.ts'
import { post } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { withNone } from '#web/parts/choices.ts'
import DateField from '#web/parts/DateField.vue'
import { useSession } from '#web/state/session.ts'

/** Makes a project without a template, and goes to it. */
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const router = useRouter()
const AUDIENCES = AUDIENCE_LIST.map(({ value, name: title }) => ({ value, title }))
const form = useDialogForm({
  value: {
    ...{ name: '', phases: '', category: '', proposed: false },
    clientId: null as number | null,
    anchor: null as string | null,
    audience: 'firm' as Audience,
    teamId: null as number | null,
  },
  async send({ phases, proposed, ...rest }) {
    const body = { ...rest, state: proposed ? 'proposed' : 'running' }
    const names = phases.split(',').map((name) => name.trim())
    const made = await post<ProjectSheet>('/projects', { ...body, phases: names.filter(Boolean) })
    await session.read()
    await router.push(`/work/${made.id}`)
  },
  done: () => emit('close'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    title="An empty project"
    does="Make it"
    :form="form"
    :places="['name', 'anchor', 'phases', 'teamId']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name" needed :fault="faultAt('name')" />
    <div class="field">
      <label for="np-client">Client</label>
      <v-autocomplete
        id="np-client"
        v-model="draft.clientId"
        :items="withNone(session.directory.clients, 'none')"
      />
    </div>
    <div class="field">
      <label for="np-date">Deadline, if it has one</label>
      <DateField id="np-date" v-model="draft.anchor" />
      <p v-if="faultAt('anchor')" class="wrong" role="alert">{{ faultAt('anchor') }}</p>
    </div>
    <LineField
      v-model="draft.phases"
      label="Phases, with commas between"
      placeholder="Gather, Close"
      :fault="faultAt('phases')"
    />
    <LineField
      v-model="draft.category"
      label="Category, in your own words"
      :most="60"
      :fault="faultAt('category')"
    />
    <v-checkbox v-model="draft.proposed" label="Only proposed: it stands still until it runs" />
    <div class="field">
      <label for="np-for">Who sees it</label>
      <v-select id="np-for" v-model="draft.audience" :items="AUDIENCES" />
    </div>
    <div v-if="draft.audience === 'team'" class="field">
      <label for="np-team">Team</label>
      <v-select
        id="np-team"
        v-model="draft.teamId"
        :items="withNone(session.directory.teams, 'choose one')"
        :error-messages="faultAt('teamId')"
      />
    </div>
  </FormDialog>
</template>
