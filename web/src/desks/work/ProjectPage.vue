<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import LoadState from '#web/parts/LoadState.vue'
import { PROJECT_STATE_NAMES } from '#contract/words.ts'
import { useNarrow } from '#web/parts/narrow.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import { useTitle } from '#web/state/title.ts'
import HealthMark from './HealthMark.vue'
import PhaseGauge from './PhaseGauge.vue'
import ProjectFacts from './ProjectFacts.vue'
import ProjectAbout from './about/ProjectAbout.vue'
import ProjectMore from './project/ProjectMore.vue'
import ProjectSplit from './project/ProjectSplit.vue'
import WorkNav from './WorkNav.vue'
import WorkView from './views/WorkView.vue'
import OneOf from '#web/parts/OneOf.vue'

/** One project: how it stands at the top, its work in any view, or all that is about it. */
const session = useSession()
const messages = useMessages()
const selection = useSelection()
const narrow = useNarrow()
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params['id']))
const { data, error, reload } = useResource<ProjectSheet>(
  () => (id.value ? `/projects/${id.value}` : null),
  (c) => c.projects.includes(id.value),
  { keep: true },
)
const about = computed(() => route.query['about'] !== undefined)
const shown = computed(() => (data.value?.id === id.value ? data.value : null))
watch(shown, (project) => {
  if (project)
    session.visit({
      id: project.id,
      name: project.name,
      clientId: project.client?.id ?? null,
      stateSetId: project.stateSetId,
      templateId: project.template?.id ?? null,
    })
})
// Taken back while it is looked at, as after a split: where one came from is shown, not that it is gone.
watch(data, (now, before) => {
  if (now || before?.id !== id.value) return
  messages.say(`“${before.name}” is not there any more.`)
  const back = String(router.options.history.state['back'] ?? '')
  void router.replace(/^\/work/.test(back) ? back : '/work')
})
const splitting = ref<readonly number[] | null>(null)
function splitOff(): void {
  splitting.value = null
  selection.clear()
}
const PARTS = [
  { value: 'work', name: 'Work' },
  { value: 'about', name: 'About it' },
] as const
useTitle(() => shown.value?.name)
const names = computed(() => session.me?.projectNames ?? PROJECT_STATE_NAMES)
</script>

<template>
  <WorkNav />
  <main class="fill">
    <div v-if="!shown" class="sheet"><LoadState :error="error" @retry="reload" /></div>
    <template v-else>
      <header class="top">
        <div class="line">
          <h1 :data-tip="shown.name">{{ shown.name }}</h1>
          <HealthMark :health="shown.health" :terse="narrow" />
          <span v-if="shown.archivedAt" class="tint c-slate">archived</span>
          <span v-else-if="shown.closedAt" class="tint c-fern">{{ names.finished }}</span>
          <span v-else-if="shown.state !== 'running'" class="tint c-ochre">
            {{ names[shown.state] }}
          </span>
          <v-btn
            v-if="shown.audience !== 'firm' && session.me?.may.member"
            variant="plain"
            class="tint c-heather"
            :to="`/who-sees/project/${shown.id}`"
          >
            {{
              shown.audience === 'named' ? 'for those named' : `for ${shown.team?.name ?? 'a team'}`
            }}
          </v-btn>
          <ProjectFacts v-if="!narrow" class="facts" :project="shown" />
          <span class="gap" />
          <OneOf
            label="Part of the project"
            :model-value="about ? 'about' : 'work'"
            :options="PARTS"
            @update:model-value="router.replace({ query: $event === 'about' ? { about: '' } : {} })"
          />
          <ProjectMore v-if="session.me?.may.member" :project="shown" @changed="reload" />
        </div>
        <ProjectFacts v-if="narrow && about" class="wraps" :project="shown" />
        <PhaseGauge :thin="!about" :phases="shown.phases" :progress="shown.progress" />
      </header>
      <div class="rest">
        <ProjectAbout v-if="about" :key="shown.id" :project="shown" @changed="reload" />
        <WorkView
          v-else
          :key="id"
          :scope="{ of: 'project', id }"
          :home="shown"
          :milestones="shown.milestones"
          @split="splitting = $event"
        />
      </div>
    </template>
    <ProjectSplit
      v-if="splitting"
      :project="id"
      :ids="splitting"
      @done="splitOff"
      @close="splitting = null"
    />
  </main>
</template>

<style scoped>
.top {
  padding: 4px 20px 0;
}
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 34px;
}
h1 {
  font-size: 21px;
  min-width: 0;
  flex: 0 1 auto;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.line > :not(h1, .facts) {
  flex: none;
}
.facts {
  flex: 0 100 auto;
  min-width: 0;
}
.line > .gap {
  flex: 1 1 0;
}
.rest {
  flex: 1;
  min-height: 0;
}
@media (max-width: 900px) {
  .top {
    padding: 4px 12px 0;
  }
  .wraps {
    flex-wrap: wrap;
  }
}
</style>
