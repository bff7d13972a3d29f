<script setup lang="ts">
import { computed } from 'vue'
import type { ProjectRule } from '#contract/rules.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import { put } from '#web/api/client.ts'
import { sayRule } from '#web/desks/clockwork/rule-words.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useProjectEdits } from './useProjectEdits.ts'

/** The rules that act in a project, each of which can be switched off for it alone. */
const props = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const known = useKnown()
const { home, run } = useProjectEdits(
  () => props.project,
  () => emit('changed'),
)
const { data: rules, reload } = useResource<ProjectRule[]>(
  () => (session.me?.may.member ? `/projects/${props.project.id}/rules` : null),
  (c) => c.entities.includes('rules') || c.entities.includes('ruleOffs'),
)
const acting = computed(() => (rules.value ?? []).filter((rule) => rule.on))
async function turn(rule: ProjectRule, on: boolean): Promise<void> {
  const said = on ? `“${rule.name}” acts here again.` : `“${rule.name}” is off in this project.`
  if (await run(() => put(`${home()}/rules/${rule.id}`, { on }), said)) await reload()
}
</script>

<template>
  <template v-if="acting.length">
    <h2 class="section">Rules here</h2>
    <ul class="pieces">
      <li v-for="rule in acting" :key="rule.id" class="rule">
        <v-switch
          :model-value="!rule.offHere"
          :disabled="!project.may.structure"
          :aria-label="`“${rule.name}” acts in this project`"
          @update:model-value="turn(rule, $event === true)"
        />
        <div>
          <v-btn variant="plain" :to="`/clockwork/rules/${rule.id}`">{{ rule.name }}</v-btn>
          <span v-if="rule.pausedBecause" class="ochre small">&nbsp;has paused itself</span>
          <span v-else-if="rule.offHere" class="quiet small">&nbsp;off in this project</span>
          <p class="small quiet">{{ sayRule(known, rule.definition) }}</p>
        </div>
      </li>
    </ul>
  </template>
</template>

<style scoped>
.rule {
  display: flex;
  gap: 10px;
  align-items: flex-start;
}
</style>
