<script setup lang="ts">
import { computed } from 'vue'
import type { NewTeam, TeamSheet } from '#contract/access.ts'
import { patch, post } from '#web/api/client.ts'
import { TEAM_KIND_LIST } from '#web/desks/access/words.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Makes or changes a team: what it is called, who gets in, who is in it. */
const { team } = defineProps<{ team: TeamSheet | null }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const messages = useMessages()
const members = computed(() =>
  session.active
    .filter(({ access }) => access !== 'contractor' && access !== 'client')
    .map(({ id, name }) => ({ value: id, title: name })),
)
const form = useDialogForm<Required<NewTeam>>({
  value: {
    name: team?.name ?? '',
    kind: team?.kind ?? 'open',
    members: [...(team?.members ?? [])],
  },
  async send(value) {
    const done = team ? await patch(`/teams/${team.id}`, value) : await post('/teams', value)
    messages.did(`The team “${value.name}” is saved.`, done)
    await session.refresh(true)
  },
  done: () => emit('done'),
})
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="team ? `Change ${team.name}` : 'A new team'"
    does="Save"
    :form="form"
    :places="['name', 'members']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name" :most="80" needed :fault="faultAt('name')" />
    <div class="field">
      <label for="te-kind">Who gets in</label>
      <v-select id="te-kind" v-model="draft.kind" :items="TEAM_KIND_LIST" />
    </div>
    <div class="field">
      <label for="te-members">Who is in it</label>
      <v-autocomplete
        id="te-members"
        v-model="draft.members"
        multiple
        chips
        closable-chips
        clear-on-select
        :items="members"
        :error-messages="faultAt('members')"
      />
    </div>
  </FormDialog>
</template>
