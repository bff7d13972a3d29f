<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import FileList from '#web/parts/FileList.vue'
import AboutFields from './AboutFields.vue'
import AboutMilestones from './AboutMilestones.vue'
import AboutPhases from './AboutPhases.vue'
import AboutPosts from './AboutPosts.vue'
import AboutRules from './AboutRules.vue'
import AboutStanding from './AboutStanding.vue'
import AboutText from './AboutText.vue'

/**
 * What a project is about: description, health, phases, milestones, what is said, what is filed.
 */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const router = useRouter()
const openTask = (id: number) =>
  router.push({ path: `/work/${props.project.id}`, query: { task: String(id) } })
</script>

<template>
  <div class="about">
    <div class="col">
      <AboutText :project="project" @changed="emit('changed')" />
      <AboutFields :project="project" />
      <AboutStanding :project="project" @changed="emit('changed')" />
      <AboutPhases :project="project" @changed="emit('changed')" />
      <AboutMilestones :project="project" @changed="emit('changed')" />
      <AboutRules :project="project" @changed="emit('changed')" />
    </div>
    <div class="col">
      <AboutPosts :project="project" @changed="emit('changed')" />
      <h2 class="section">
        Files and links
        <span>of the project and all its tasks</span>
      </h2>
      <FileList
        :files="project.files"
        :home="`/projects/${project.id}`"
        :may="project.may.edit"
        @changed="emit('changed')"
        @open="openTask"
      />
    </div>
  </div>
</template>

<style scoped>
.about {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 32px;
  padding: 0 20px 30px;
  overflow-y: auto;
  height: 100%;
}
.col {
  min-width: 0;
}
.about :deep(.section) {
  margin-bottom: 6px;
}
@media (max-width: 900px) {
  .about {
    grid-template-columns: 1fr;
    height: auto;
  }
}
</style>
