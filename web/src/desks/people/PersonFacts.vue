<script setup lang="ts">
import { computed } from 'vue'
import type { PersonPage, PersonPatch, PersonSheet } from '#contract/people.ts'
import { isGuestAccess } from '#core/access/reach.ts'
import { patch } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import { changedIn } from '#web/forms/merge.ts'
import { useForm } from '#web/forms/useForm.ts'
import { withNone } from '#web/parts/choices.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** What somebody is called and does, whom they answer to, and who stands in for them. */
const props = defineProps<{ person: PersonPage; may: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const valueOf = ({ name, title, managerId, standInId }: PersonSheet) => ({
  ...{ name, title, managerId, standInId },
})
const form = useForm({
  key: () => `person.${props.person.id}`,
  held: () => ({ value: valueOf(props.person), version: 0 }),
  async send(written) {
    const changed: PersonPatch = changedIn(valueOf(props.person), written)
    const done = await patch<PersonSheet>(`/people/${props.person.id}`, changed)
    messages.did(`${done.name} is saved.`, done)
    emit('changed')
    return { value: valueOf(done), version: 0 }
  },
})
const others = computed(() => session.active.filter(({ id }) => id !== props.person.id))
const managers = computed(() => others.value.filter(({ access }) => !isGuestAccess(access)))
const nameOf = (id: number | null) =>
  session.directory.people.find((p) => p.id === id)?.name ?? 'nobody'
const names = (people: readonly { name: string }[]) => people.map(({ name }) => name).join(', ')
</script>

<template>
  <form v-if="may && form.draft.value" @submit.prevent="form.save()">
    <h2 class="section">What they are</h2>
    <LineField v-model="form.draft.value.name" label="Name" needed :fault="form.faultAt('name')" />
    <LineField
      v-model="form.draft.value.title"
      label="What they do"
      :fault="form.faultAt('title')"
    />
    <div class="field">
      <label for="pf-manager">Their manager</label>
      <v-autocomplete
        id="pf-manager"
        v-model="form.draft.value.managerId"
        :items="withNone(managers, 'nobody')"
        :error-messages="form.faultAt('managerId')"
      />
    </div>
    <div class="field">
      <label for="pf-stand-in">Who stands in when they are away</label>
      <v-autocomplete
        id="pf-stand-in"
        v-model="form.draft.value.standInId"
        :items="withNone(others, 'nobody')"
        :error-messages="form.faultAt('standInId')"
      />
    </div>
    <p v-if="form.fault.value" class="wrong" role="alert">{{ form.fault.value }}</p>
    <v-btn type="submit" :disabled="!form.dirty.value || form.busy.value">Save</v-btn>
  </form>
  <p v-else>
    Manager: {{ nameOf(person.managerId) }}. Stands in when away: {{ nameOf(person.standInId) }}.
  </p>
  <p v-if="person.answering.length" class="quiet small">
    {{ names(person.answering) }} {{ person.answering.length === 1 ? 'answers' : 'answer' }} to
    {{ person.name }}.
  </p>
  <p v-if="person.standsInFor.length" class="quiet small">
    {{ person.name }} stands in for {{ names(person.standsInFor) }}.
  </p>
</template>
