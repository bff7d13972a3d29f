<script setup lang="ts">
import type { ProjectSheet } from '#contract/projects.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { everythingWith } from '#web/state/everything.ts'
import { useSession } from '#web/state/session.ts'

/** Whose a project is, where it stands and where it comes from, in a line. */
defineProps<{ project: ProjectSheet }>()
const session = useSession()
</script>

<template>
  <p class="facts">
    <v-btn
      variant="plain"
      v-if="project.client"
      class="link"
      :to="everythingWith('client', project.client.id)"
    >
      {{ project.client.name }}
    </v-btn>
    <v-btn
      variant="plain"
      v-if="project.lead"
      class="link"
      :to="everythingWith('person', project.lead.id)"
    >
      led by {{ project.lead.name }}
    </v-btn>
    <span v-if="project.anchor">
      {{ project.anchorIs === 'start' ? 'begun' : 'due' }}
      {{ sayDate(project.anchor, session.today) }}
    </span>
    <span>{{ project.done }} of {{ project.done + project.open }} done</span>
    <span v-if="project.late" class="alarm">{{ plural(project.late, 'task') }} late</span>
    <v-btn
      variant="plain"
      v-if="project.template && session.me?.may.member"
      class="auto"
      :to="`/clockwork/templates/${project.template.id}`"
    >
      from “{{ project.template.name }}”, version {{ project.template.version }}
    </v-btn>
    <v-btn
      variant="plain"
      v-if="project.series && session.me?.may.member"
      class="auto"
      :to="`/clockwork/series/${project.series.id}`"
    >
      from series
    </v-btn>
  </p>
</template>

<style scoped>
.facts {
  display: flex;
  gap: 12px;
  font-size: 12.5px;
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
}
.facts > * {
  flex: none;
}
.link:hover {
  text-decoration: underline;
}
</style>
