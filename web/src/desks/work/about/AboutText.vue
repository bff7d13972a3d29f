<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import { useProjectEdits } from './useProjectEdits.ts'
import { later } from '#web/state/later.ts'

const RichText = later(() => import('#web/parts/RichText.vue'))

/** What a project is about, saved when it is left; two people’s versions are asked about. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const { edit } = useProjectEdits(
  () => props.project,
  () => emit('changed'),
)
const about = ref(props.project.description)
/** The description as it was when this writing of it began. */
const base = ref(props.project.description)
// What somebody is writing stays, whatever arrives.
watch(
  () => props.project.description,
  (now) => {
    if (about.value === base.value) about.value = now
    if (about.value === now) base.value = now
  },
)
/** Somebody else changed it in the meantime: whose stands is asked, never decided silently. */
const clash = ref(false)
function keep(): void {
  const now = props.project.description
  clash.value = about.value !== now && base.value !== now
  if (about.value !== now && !clash.value) void save()
}
async function save(): Promise<void> {
  const text = about.value
  if (!(await edit({ description: text }, 'The description is saved.'))) return
  base.value = text
  clash.value = false
}
function takeTheirs(): void {
  about.value = base.value = props.project.description
  clash.value = false
}
// Going elsewhere without leaving the field first loses nothing either.
onBeforeUnmount(keep)
</script>

<template>
  <h2 class="section">What it is about</h2>
  <RichText
    v-model="about"
    label="Description of the project"
    placeholder="What it is for, and when it is done"
    :readonly="!project.may.edit"
    @leave="keep"
  />
  <div v-if="clash" class="note" role="alert">
    <p class="small">
      <b>Somebody else changed the description while you wrote. Now it says:</b>
    </p>
    <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
    <div class="rich" v-html="project.description" />
    <p class="btns">
      <v-btn variant="flat" @click="save">Keep mine</v-btn>
      <v-btn @click="takeTheirs">Keep theirs</v-btn>
    </p>
  </div>
</template>
