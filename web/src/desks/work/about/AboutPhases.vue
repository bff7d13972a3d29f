<script setup lang="ts">
import { mdiDragHorizontalVariant } from '@mdi/js'
import { ref } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import { put } from '#web/api/client.ts'
import { vCarry, vLand, type Landing } from '#web/drag/carry.ts'
import { useForm } from '#web/forms/useForm.ts'
import Glyph from '#web/parts/Glyph.vue'
import LineMenu from '#web/parts/LineMenu.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { shelfFor } from '#web/state/draft.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'

/** The phases of a project, in order: named, carried to another place, added and removed. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()

interface Draft {
  phases: { id?: number; name: string }[]
}
const heldOf = ({ phases, version }: ProjectSheet) => ({
  value: { phases: phases.map(({ id, name }) => ({ id, name })) } as Draft,
  version,
})
const form = useForm<Draft>({
  key: () => `phases.${props.project.id}`,
  held: () => heldOf(props.project),
  async send({ phases }) {
    const body = { phases: phases.filter((phase) => phase.name.trim()) }
    const saved = await put<ProjectSheet>(`/projects/${props.project.id}/phases`, body)
    messages.did('The phases are saved.', saved)
    await session.read()
    emit('changed')
    return heldOf(saved)
  },
  again: () => Promise.resolve(emit('changed')),
  shelf: shelfFor,
})
const { draft, dirty, busy, fault } = form
useUnsaved(dirty, 'The order of the phases', form.putBack)

const over = ref<number | null>(null)
function move(from: number, to: number): void {
  const { phases } = draft.value!
  const [moved] = phases.splice(from, 1)
  if (moved) phases.splice(Math.max(0, to), 0, moved)
}
const landing = (index: number): Landing => ({
  takes: ({ kind }) => kind === 'phase',
  over(carried) {
    over.value = carried && carried.id !== index ? index : null
    return carried?.id === index ? 'where it is' : `to place ${index + 1}`
  },
  land: ({ id }) => move(Number(id), index),
})
</script>

<template>
  <h2 class="section">Phases</h2>
  <ol v-if="draft" class="lines">
    <li
      v-for="(p, i) in draft.phases"
      :key="p.id ?? `new${i}`"
      v-land="project.may.structure && landing(i)"
      :class="{ over: over === i }"
    >
      <v-btn
        v-if="project.may.structure"
        v-carry="{ kind: 'phase', id: i, name: p.name }"
        icon
        class="hold"
        :aria-label="`Carry ${p.name} elsewhere: Alt and Enter, then arrows`"
        @keydown.alt.up.prevent="move(i, i - 1)"
        @keydown.alt.down.prevent="move(i, i + 1)"
      >
        <Glyph :path="mdiDragHorizontalVariant" :size="16" />
      </v-btn>
      <v-text-field
        v-model="p.name"
        class="seamless"
        maxlength="80"
        :readonly="!project.may.structure"
        :aria-label="`Name of phase ${i + 1}`"
      />
      <LineMenu
        v-if="project.may.structure && draft.phases.length > 1"
        :label="`Move ${p.name}`"
        :lines="[
          i > 0 && { name: 'Up by one', run: () => move(i, i - 1) },
          i < draft.phases.length - 1 && { name: 'Down by one', run: () => move(i, i + 1) },
        ]"
      />
      <RemoveButton
        v-if="project.may.structure"
        :aria-label="`Remove ${p.name}`"
        @click="draft.phases = draft.phases.filter((_, n) => n !== i)"
      />
    </li>
  </ol>
  <p v-if="fault" class="wrong" role="alert">{{ fault }}</p>
  <p v-if="draft && project.may.structure" class="btns">
    <v-btn @click="draft.phases.push({ name: '' })">Add a phase</v-btn>
    <template v-if="dirty">
      <v-btn variant="flat" :disabled="busy" @click="form.save()">Save the phases</v-btn>
      <v-btn @click="form.putBack">Drop the changes</v-btn>
      <span class="small quiet">Tasks of a removed phase stay, in no phase.</span>
    </template>
  </p>
</template>

<style scoped>
.hold {
  cursor: grab;
}
.over {
  box-shadow: inset 0 2px var(--fern);
}
</style>
