<script setup lang="ts">
import { ref } from 'vue'
import { CUSTOM_NAMES, PALETTE, type CustomField, type CustomKind } from '#contract/fields.ts'
import type { FieldBody } from '#contract/setup.ts'
import ColourField from '#web/parts/ColourField.vue'
import { useSession } from '#web/state/session.ts'

/** Makes or changes a custom field. The type of one that is there stays. */
const props = defineProps<{
  field: CustomField | null
  wrong: string
  kinds: readonly CustomKind[]
}>()
const emit = defineEmits<{ save: [body: FieldBody]; close: [] }>()
const session = useSession()
const name = ref(props.field?.name ?? '')
const kind = ref<CustomKind>(props.field?.kind ?? 'text')
/** Everywhere, one project (p12) or the projects of one template (t3). */
const where = ref(
  props.field?.projectId
    ? `p${props.field.projectId}`
    : props.field?.templateId
      ? `t${props.field.templateId}`
      : '',
)
const currency = ref(props.field?.options.currency ?? 'GBP')
const choices = ref((props.field?.options.choices ?? []).map((c) => ({ ...c })))
const word = ref('')
function add(): void {
  const text = word.value.trim()
  if (!text || choices.value.some((c) => c.name.toLowerCase() === text.toLowerCase())) return
  choices.value.push({
    key: `${text
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .slice(0, 28)}-${choices.value.length + 1}`,
    name: text,
    colour: PALETTE[choices.value.length % PALETTE.length]!,
  })
  word.value = ''
}
function save(): void {
  add()
  emit('save', {
    name: name.value,
    kind: kind.value,
    options:
      kind.value === 'choice'
        ? { choices: choices.value }
        : kind.value === 'money'
          ? { currency: currency.value.toUpperCase() }
          : {},
    projectId: where.value.startsWith('p') ? Number(where.value.slice(1)) : null,
    templateId: where.value.startsWith('t') ? Number(where.value.slice(1)) : null,
    hidden: props.field?.hidden ?? false,
  })
}
</script>

<template>
  <form class="dialog" @submit.prevent="save">
    <h3>{{ field ? 'Change the field' : 'A new field' }}</h3>
    <div class="field">
      <label for="ff-name">Name</label>
      <v-text-field id="ff-name" v-model="name" maxlength="60" required />
    </div>
    <div class="field">
      <label for="ff-kind">Type</label>
      <v-select
        id="ff-kind"
        v-model="kind"
        :disabled="field !== null"
        :items="kinds.map((k) => ({ value: k, title: CUSTOM_NAMES[k] }))"
      />
    </div>
    <div v-if="kind === 'money'" class="field">
      <label for="ff-cur">Currency (ISO 4217)</label>
      <v-text-field id="ff-cur" v-model="currency" maxlength="3" pattern="[A-Za-z]{3}" required />
    </div>
    <div v-if="kind === 'choice'" class="field">
      <span class="label">Choices, in order</span>
      <div v-for="(c, i) in choices" :key="c.key" class="ch">
        <v-text-field v-model="c.name" maxlength="60" :aria-label="`Choice ${i + 1}`" />
        <ColourField v-model="c.colour" :label="`Colour of ${c.name}`" />
        <v-btn variant="text" @click="choices.splice(i, 1)">Remove</v-btn>
      </div>
      <div class="ch">
        <v-text-field
          v-model="word"
          maxlength="60"
          placeholder="Another choice"
          aria-label="Another choice"
          @keydown.enter.prevent="add"
        />
        <v-btn @click="add">Add</v-btn>
      </div>
    </div>
    <div class="field">
      <label for="ff-where">Where</label>
      <v-autocomplete
        id="ff-where"
        v-model="where"
        :items="[
          { value: '', title: 'everywhere' },
          ...session.directory.templates.map((t) => ({
            value: `t${t.id}`,
            title: `in projects of “${t.name}”`,
          })),
          ...session.directory.projects.map((p) => ({
            value: `p${p.id}`,
            title: `only in ${p.name}`,
          })),
        ]"
      />
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="btns">
      <v-btn type="submit" variant="flat">Save</v-btn>
      <v-btn @click="emit('close')">Leave it</v-btn>
    </div>
  </form>
</template>

<style scoped>
.ch {
  display: flex;
  gap: 6px;
}
.ch select {
  width: 100px;
}
</style>
