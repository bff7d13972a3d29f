<script setup lang="ts">
import { computed } from 'vue'
import { CUSTOM_NAMES, PALETTE, type CustomField, type CustomKind } from '#contract/fields.ts'
import type { FieldBody } from '#contract/setup.ts'
import { FIELD_OWNER_NAMES, FIELD_OWNERS, type FieldOwner, type Readers } from '#contract/words.ts'
import { post, put } from '#web/api/client.ts'
import FormDialog from '#web/forms/FormDialog.vue'
import LineField from '#web/forms/LineField.vue'
import { useDialogForm } from '#web/forms/useDialogForm.ts'
import ColourField from '#web/parts/ColourField.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Makes or changes a custom field. The type of one that is there stays. */
const { field, kinds } = defineProps<{ field: CustomField | null; kinds: readonly CustomKind[] }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()

const READERS_LIST: readonly { value: Readers; title: string }[] = [
  { value: 'everyone', title: 'everyone who sees what it is on, guests too' },
  { value: 'members', title: 'everybody inside' },
  { value: 'managers', title: 'managers alone' },
]
/** Everywhere, one project (p12) or the projects of one template (t3). */
const whereOf = ({ projectId, templateId }: Pick<CustomField, 'projectId' | 'templateId'>) =>
  projectId ? `p${projectId}` : templateId ? `t${templateId}` : ''
const numberOf = (where: string, letter: 'p' | 't') =>
  where.startsWith(letter) ? Number(where.slice(1)) : null
const begun = {
  name: field?.name ?? '',
  of: field?.of ?? ('task' as FieldOwner),
  kind: field?.kind ?? ('text' as CustomKind),
  where: field ? whereOf(field) : '',
  readers: field?.readers ?? ('everyone' as Readers),
  currency: field?.options.currency ?? 'GBP',
  choices: field?.options.choices ?? [],
  /** A choice that is being named, not among them yet. */
  word: '',
}
const places = computed(() => [
  { value: '', title: 'everywhere' },
  ...session.directory.templates.map((t) => ({
    value: `t${t.id}`,
    title: `in projects of “${t.name}”`,
  })),
  ...session.directory.projects.map((p) => ({ value: `p${p.id}`, title: `only in ${p.name}` })),
])
/** The choices, with the one that is being named. */
function choicesOf({ choices, word }: typeof begun) {
  const name = word.trim()
  if (!name || choices.some((c) => c.name.toLowerCase() === name.toLowerCase())) return choices
  const slug = name.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  const key = `${slug.slice(0, 28)}-${choices.length + 1}`
  return [...choices, { key, name, colour: PALETTE[choices.length % PALETTE.length]! }]
}
function optionsOf(value: typeof begun): FieldBody['options'] {
  if (value.kind === 'choice') return { choices: choicesOf(value) }
  return value.kind === 'money' ? { currency: value.currency.toUpperCase() } : {}
}
const form = useDialogForm({
  value: begun,
  async send(value) {
    const body: FieldBody = {
      of: value.of,
      name: value.name,
      kind: value.kind,
      options: optionsOf(value),
      projectId: value.of === 'task' ? numberOf(value.where, 'p') : null,
      templateId: value.of === 'task' ? numberOf(value.where, 't') : null,
      hidden: field?.hidden ?? false,
      readers: value.readers,
    }
    const done = field ? await put(`/fields/${field.id}`, body) : await post('/fields', body)
    messages.did(`The field “${body.name}” is saved.`, done)
    await session.read()
  },
  done: () => emit('done'),
})

function add(): void {
  if (form.draft) Object.assign(form.draft, { choices: choicesOf(form.draft), word: '' })
}
</script>

<template>
  <FormDialog
    v-slot="{ draft, faultAt }"
    :title="field ? 'Change the field' : 'A new field'"
    does="Save"
    :form="form"
    :places="['name', 'options.currency']"
    @close="emit('close')"
  >
    <LineField v-model="draft.name" label="Name" :most="60" needed :fault="faultAt('name')" />
    <div class="field">
      <label for="ff-kind">Type</label>
      <v-select
        id="ff-kind"
        v-model="draft.kind"
        :disabled="field !== null"
        :items="kinds.map((k) => ({ value: k, title: CUSTOM_NAMES[k] }))"
      />
    </div>
    <div v-if="draft.kind === 'money'" class="field">
      <label for="ff-cur">Currency (ISO 4217)</label>
      <v-text-field
        id="ff-cur"
        v-model="draft.currency"
        maxlength="3"
        pattern="[A-Za-z]{3}"
        required
        :error-messages="faultAt('options.currency')"
      />
    </div>
    <div v-if="draft.kind === 'choice'" class="field">
      <span class="label">Choices, in order</span>
      <div v-for="(c, i) in draft.choices" :key="c.key" class="ch">
        <v-text-field v-model="c.name" maxlength="60" :aria-label="`Choice ${i + 1}`" />
        <ColourField v-model="c.colour" :label="`Colour of ${c.name}`" />
        <v-btn
          variant="text"
          @click="draft.choices = draft.choices.filter(({ key }) => key !== c.key)"
        >
          Remove
        </v-btn>
      </div>
      <div class="ch">
        <v-text-field
          v-model="draft.word"
          maxlength="60"
          placeholder="Another choice"
          aria-label="Another choice"
          @keydown.enter.prevent="add"
        />
        <v-btn @click="add">Add</v-btn>
      </div>
    </div>
    <div class="field">
      <label for="ff-of">It is said of</label>
      <v-select
        id="ff-of"
        v-model="draft.of"
        :disabled="field !== null"
        :items="FIELD_OWNERS.map((value) => ({ value, title: FIELD_OWNER_NAMES[value] }))"
      />
    </div>
    <div v-if="draft.of === 'task'" class="field">
      <label for="ff-where">Where</label>
      <v-autocomplete id="ff-where" v-model="draft.where" :items="places" />
    </div>
    <div class="field">
      <label for="ff-readers">Who reads it</label>
      <v-select id="ff-readers" v-model="draft.readers" :items="READERS_LIST" />
    </div>
  </FormDialog>
</template>

<style scoped>
.ch {
  display: flex;
  gap: 6px;
}
</style>
