<script setup lang="ts">
import { computed } from 'vue'
import type { LateAudit } from '#contract/rules.ts'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** Every late task: what comes to it next, or why nothing does. */
const session = useSession()
const { data, error, reload } = useResource<LateAudit>(() => '/clockwork/audit')
/** As many as are shown of each reason. */
const FEW = 12
/** Those that something comes to, and those that nothing comes to, by the reason. */
const groups = computed(() => {
  const by = new Map<string, LateAudit['tasks'][number][]>()
  for (const task of data.value?.tasks ?? []) {
    const name = task.reason ?? 'Something comes next'
    by.set(name, [...(by.get(name) ?? []), task])
  }
  return [...by].map(([name, tasks]) => ({ name, tasks, none: tasks[0]?.next === null }))
})
</script>

<template>
  <section class="late">
    <h2>Late work</h2>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <p v-else-if="data.late === 0" class="quiet">Nothing is late.</p>
    <template v-else>
      <p>
        {{ plural(data.late, 'task') }} late; something comes to {{ data.watched }} of them.
        <span v-if="data.gaps" class="wrong">
          {{ plural(data.gaps, 'alarm') }} missing: switch the rule off and on again.
        </span>
      </p>
      <div v-for="group in groups" :key="group.name">
        <h3 class="section">
          <span :class="{ ochre: group.none }">{{ group.name }}</span>
          <span>{{ group.tasks.length }}</span>
        </h3>
        <ul>
          <li v-for="task in group.tasks.slice(0, FEW)" :key="task.id">
            <v-btn variant="plain" :to="`/task/${task.id}`">{{ task.title }}</v-btn>
            <span v-if="task.place" class="quiet">· {{ task.place }}</span>
            <span v-if="task.next" class="when">
              {{ session.sayAt(task.next.at) }}, {{ task.next.rule ?? 'a reminder' }}
            </span>
          </li>
        </ul>
        <p v-if="group.tasks.length > FEW" class="small quiet">
          And {{ group.tasks.length - FEW }} more.
        </p>
      </div>
    </template>
  </section>
</template>

<style scoped>
.late {
  margin-top: 34px;
}
.late h2 {
  font: 500 20px/1.3 var(--display);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 6px;
  min-height: 30px;
  border-bottom: 1px solid var(--rule);
}
.when {
  margin-left: auto;
  color: var(--ink-2);
}
</style>
