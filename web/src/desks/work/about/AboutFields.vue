<script setup lang="ts">
import { computed } from 'vue'
import type { ProjectSheet } from '#contract/projects.ts'
import { saidValues } from '#web/fields/own.ts'
import { useSession } from '#web/state/session.ts'

/** What the firm's own fields say of a project. */
const { project } = defineProps<{ project: ProjectSheet }>()
const session = useSession()
const said = computed(() => saidValues(project, session.directory.people, session.saying))
</script>

<template>
  <template v-if="said.length || project.category">
    <h2 class="section">Facts</h2>
    <dl class="facts">
      <template v-if="project.category">
        <dt>Category</dt>
        <dd>{{ project.category }}</dd>
      </template>
      <template v-for="{ name, text, href } in said" :key="name">
        <dt>{{ name }}</dt>
        <dd>
          <v-btn v-if="href" variant="plain" :href="href" rel="noopener noreferrer nofollow">
            {{ text }}
          </v-btn>
          <template v-else>{{ text }}</template>
        </dd>
      </template>
    </dl>
  </template>
</template>
