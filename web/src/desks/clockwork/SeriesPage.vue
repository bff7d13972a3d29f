<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { isByEvents } from '#core/recurrence/course.ts'
import type { NextDate, SeriesBody, SeriesSummary, SeriesSheet } from '#contract/series.ts'
import { post, put, sentence } from '#web/api/client.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { everythingWith } from '#web/state/everything.ts'
import { useKept } from './useKept.ts'
import ClockworkNav from './ClockworkNav.vue'
import { draftSeries } from './series-draft.ts'
import AlsoFor from './AlsoFor.vue'
import ScheduleEdit from './ScheduleEdit.vue'
import SeriesDates from './SeriesDates.vue'
import SeriesRules from './SeriesRules.vue'
import SeriesMakes from './SeriesMakes.vue'
import SeriesWaysEdit from './SeriesWaysEdit.vue'
import StandMark from './StandMark.vue'
import YearStrip from './YearStrip.vue'
import { sayStand, sayWent } from './went.ts'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { useForm, type Held } from '#web/forms/useForm.ts'
import { sayClash } from '#web/forms/words.ts'
import { shelfFor } from '#web/state/draft.ts'
import { useTitle } from '#web/state/title.ts'

const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useResource<SeriesSummary[]>(
  () => '/series',
  (c) => c.entities.includes('series'),
)
const id = computed(() =>
  route.params['id'] === 'new' ? 'new' : Number(route.params['id']) || null,
)
/** The series that is open: the first of the list where none is named. */
const chosen = computed(() =>
  id.value === 'new'
    ? null
    : (id.value ?? data.value?.find((s) => !s.archived)?.id ?? data.value?.[0]?.id ?? null),
)
const { data: opened, reload: reopen } = useResource<SeriesSheet>(
  () => (chosen.value === null ? null : `/series/${chosen.value}`),
  (c, series) =>
    c.entities.includes('series') ||
    !!series?.made.some(
      ({ project, task }) =>
        (project && c.projects.includes(project.id)) || (task && c.tasks.includes(task.id)),
    ),
  { keep: true },
)
const current = computed(() => (opened.value?.id === chosen.value ? opened.value : null))
const dates = ref<NextDate[]>([])
const datesWrong = ref('')
const may = computed(() => session.me?.may.structure ?? false)

const heldOf = (s: SeriesSheet): Held<SeriesBody> => ({
  value: {
    ...{ name: s.name, makes: s.makes, schedule: s.schedule },
    ...{ ways: s.ways, leadDays: s.leadDays },
  },
  version: s.version,
})
/** What a new one begins as: out of a task, a template, a line that was typed, or blank. */
const blank = ref<Held<SeriesBody> | null>(null)
const blankWrong = ref('')
watch(
  () => (id.value === 'new' ? route.fullPath : null),
  async (path) => {
    blank.value = null
    if (path === null) return
    const { today, directory } = session
    try {
      const value = await draftSeries(route.query, { today, directory, me: session.me!.id })
      blank.value = { value, version: 0 }
      blankWrong.value = ''
    } catch (problem) {
      blankWrong.value = sentence(problem)
    }
  },
  { immediate: true },
)
const form = useForm<SeriesBody>({
  key: () =>
    id.value === 'new'
      ? `series.new.${route.fullPath}`
      : current.value && `series.${current.value.id}`,
  held: () => (id.value === 'new' ? blank.value : current.value && heldOf(current.value)),
  async send(value, seen) {
    const next = atOnce.value.length > 0 && beginNext.value
    const from = current.value && holdsFrom.value
    const sent = { ...value, ...(next && { begin: 'next' }), ...(from && { from }) }
    saved = current.value
      ? await put<SeriesSheet>(`/series/${current.value.id}`, sent, { seen })
      : await post<SeriesSheet>('/series', {
          ...sent,
          ...(also.value.length && { clients: also.value }),
        })
    return heldOf(saved)
  },
  again: () => reopen(),
  shelf: shelfFor,
})
let saved: SeriesSheet | undefined
const { draft: body, dirty, busy, fault, faultAt } = form
useUnsaved(dirty, 'This series', form.putBack)
const LABELS = {
  ...{
    name: 'Name',
    schedule: 'When',
    leadDays: 'Made so many days before',
    ways: 'How it goes about it',
    makes: 'What it makes',
  },
  ...{ rule: 'How often', start: 'From', title: 'Title', clientId: 'Client', leadId: 'Led by' },
  ...{ roles: 'Roles', assignees: 'On it', estimate: 'Estimate', checklist: 'Checklist' },
  reminders: 'Reminders',
}
const clashes = computed(() =>
  form.clashes.value.map((clash) => sayClash(body.value, clash, LABELS)),
)

const lay = useDebounceFn(async () => {
  if (!body.value) return
  try {
    const { schedule, leadDays, ways, makes } = body.value
    dates.value = await post<NextDate[]>(
      '/series/dates',
      {
        ...{ schedule, leadDays, ways: ways ?? {} },
        // A task is never late on the day it is made; of a project, its template tells.
        ...(makes.kind === 'project' && {
          makes: { ...makes, name: makes.name.trim() || 'Untitled' },
        }),
        ...(current.value && { series: current.value.id }),
      },
      { asks: true },
    )
    datesWrong.value =
      dates.value.length || isByEvents(schedule) ? '' : 'This schedule has no date left.'
  } catch (problem) {
    dates.value = []
    datesWrong.value = sentence(problem)
  }
}, 200)
watch(
  () =>
    body.value &&
    JSON.stringify([body.value.schedule, body.value.leadDays, body.value.ways, body.value.makes]),
  () => void lay(),
  { immediate: true },
)
const looked = () => Promise.all([reload(), reopen(), lay()])
/** What saving would make at once, said before it is saved. */
const atOnce = computed((): NextDate[] =>
  dirty.value ? dates.value.filter((date) => date.now) : [],
)
const lateAtOnce = computed(() => atOnce.value.reduce((sum, { late }) => sum + late, 0))
const beginNext = ref(false)
/** Other clients that a new one is made for as well. */
const also = ref<readonly number[]>([])
/** The date from which on a change holds, as a series of its own; empty: for all that is to come. */
const holdsFrom = ref('')
const HOLDS = computed(() => [
  { value: '', name: 'all dates to come' },
  ...(current.value?.next ?? []).slice(1).map(({ scheduled, date }) => ({
    value: scheduled,
    name: `${sayDate(date, session.today)} and later`,
  })),
])

async function save(): Promise<void> {
  const isNew = id.value === 'new'
  if (!(await form.save()) || !saved) return
  beginNext.value = false
  const split = id.value !== 'new' && saved.id !== current.value?.id
  holdsFrom.value = ''
  also.value = []
  await Promise.all([reload(), reopen()])
  const [next] = saved.next
  const comes = next ? sayDate(next.date, session.today) : 'never'
  const said = isByEvents(saved.schedule) ? 'it comes when a rule says so' : `next ${comes}`
  messages.say(`“${saved.name}” is saved; ${said}.`)
  if (isNew || split) await router.push(`/clockwork/series/${saved.id}`)
}
const turn = () =>
  attempt(async () => {
    const s = current.value!
    await post(`/series/${s.id}/switch`, { on: !s.on })
    await Promise.all([reload(), reopen()])
    messages.say(
      s.on
        ? `“${s.name}” is paused; what comes due meanwhile is skipped.`
        : `“${s.name}” runs again.`,
    )
  })
const kept = useKept('series', () => Promise.all([reload(), reopen()]))
const more = computed(() => [
  ...(may.value && current.value ? kept(current.value) : []),
  may.value && { name: 'Bring in a calendar file', to: '/clockwork/series/bring-in' },
  { name: 'Take out as a calendar file', file: '/api/v1/series/export' },
])
const aside = ref(false)
/** Those in use, or those put aside; the one that is open stands among them. */
const listed = computed(() =>
  (data.value ?? []).filter((s) => s.archived === aside.value || s.id === current.value?.id),
)
const comesNext = (s: SeriesSummary) => {
  if (s.next) return `next ${sayDate(s.next, session.today)}`
  return s.byEvents && !s.ended ? 'when a rule says so' : 'no date left'
}
const standing = (s: SeriesSummary) => (s.ended ? 'ended' : !s.on ? 'Paused' : 'On')
useTitle(() => current.value?.name)
</script>

<template>
  <main>
    <ClockworkNav>
      <v-btn variant="flat" v-if="may" to="/clockwork/series/new">Make a series</v-btn>
      <LineMenu label="More for series" :lines="more" />
    </ClockworkNav>
    <div class="page with-list" :class="{ picked: route.params['id'] || data?.length === 0 }">
      <nav class="list" aria-label="Series">
        <LoadState v-if="!data" :error="error" @retry="reload" />
        <v-btn v-if="data?.some((s) => s.archived)" variant="text" @click="aside = !aside">
          {{ aside ? 'Show what is in use' : 'Show what is archived' }}
        </v-btn>
        <v-list-item
          v-for="s in listed"
          :key="s.id"
          class="li"
          :class="{ on: s.id === current?.id }"
          :to="`/clockwork/series/${s.id}`"
        >
          <b>{{ s.name }}</b>
          <span class="s" :class="{ off: !s.on, bad: s.ended || s.troubled }">
            {{ standing(s) }}
          </span>
          <small>
            {{ comesNext(s) }}
          </small>
        </v-list-item>
      </nav>
      <div class="sheet">
        <v-btn variant="text" class="narrowonly" to="/clockwork/series">‹ All series</v-btn>
        <h1 class="sr">{{ current?.name ?? 'Series' }}</h1>
        <div v-if="data && !data.length && id !== 'new'" class="empty">
          <h3>Nothing repeats yet</h3>
          <p>
            A series makes the next task or project by itself, so many working days before it is
            due.
          </p>
          <div v-if="may" class="btns">
            <v-btn variant="flat" to="/clockwork/series/new">Make the first series</v-btn>
          </div>
        </div>
        <v-form v-else-if="body" :readonly="!may" @submit.prevent="save">
          <div class="top">
            <v-text-field
              v-model="body.name"
              class="name seamless"
              aria-label="Name of the series"
              :error-messages="faultAt('name')"
              placeholder="Name of the series"
              maxlength="120"
              required
              :readonly="!may"
            />
            <v-switch
              v-if="current && may && !current.ended && !current.archived"
              :model-value="current.on"
              :aria-label="current.on ? 'On; switch off to pause' : 'Paused; switch on to resume'"
              @update:model-value="turn"
            />
          </div>
          <p v-if="current" class="sub">
            <span v-if="current.archived" class="ochre">
              Archived: it makes nothing until it is brought back.
            </span>
            <v-btn variant="plain" class="auto" :to="everythingWith('series', current.id)">
              all its work
            </v-btn>
            <v-btn variant="plain" class="auto" :to="`/clockwork/log?series=${current.id}`">
              its runs
            </v-btn>
          </p>
          <p v-for="w in current?.warnings" :key="w" class="ochre">{{ w }}</p>
          <fieldset :disabled="!may">
            <SeriesMakes v-model="body.makes" />
            <AlsoFor v-if="id === 'new'" v-model="also" :but="body.makes.clientId" />
            <h2 class="section">When</h2>
            <ScheduleEdit v-model="body.schedule" />
            <SeriesWaysEdit
              :model-value="body.ways ?? {}"
              v-model:lead-days="body.leadDays"
              :makes="body.makes"
              :schedule="body.schedule"
              @update:model-value="body.ways = $event"
            />
          </fieldset>
          <div v-if="may && atOnce.length" class="once">
            <p>
              Saving makes {{ plural(atOnce.length, 'date') }} at once:
              {{ atOnce.map((d) => sayDate(d.date, session.today)).join(', ') }}.
              <b v-if="lateAtOnce">{{ plural(lateAtOnce, 'task') }} would be late already.</b>
            </p>
            <v-checkbox
              v-model="beginNext"
              label="Begin with the next date instead"
              density="compact"
              hide-details
            />
          </div>
          <p v-if="fault || blankWrong" class="wrong" role="alert">{{ fault || blankWrong }}</p>
          <p v-if="may && dirty && current && HOLDS.length > 1" class="line">
            What was changed holds for
            <TokenPick
              v-model="holdsFrom"
              :options="HOLDS"
              label="What was changed holds for"
              tone="value"
            />
            <span v-if="holdsFrom" class="small quiet">
              what comes before stays as it is, as a series that ends
            </span>
          </p>
          <div v-if="may" class="btns">
            <v-btn type="submit" variant="flat" :disabled="busy || (id !== 'new' && !dirty)">
              {{ id === 'new' ? 'Make the series' : dirty ? 'Save the series' : 'Saved' }}
            </v-btn>
            <v-btn v-if="dirty && current" @click="form.putBack">Drop the changes</v-btn>
          </div>
        </v-form>
        <template v-if="current">
          <h2 class="section">A year of it</h2>
          <YearStrip :past="current.made" :ahead="current.ahead" />
          <h2 class="section">
            What became of its dates
            <span>{{ plural(current.made.length, 'time') }}</span>
          </h2>
          <p v-if="!current.made.length" class="quiet note">Nothing yet.</p>
          <div v-for="m in current.made" :key="m.scheduled" class="made">
            <span>{{ sayDate(m.date, session.today) }}</span>
            <v-btn variant="plain" v-if="m.project" :to="`/work/${m.project.id}`">
              {{ m.project.name }}
            </v-btn>
            <v-btn variant="plain" v-else-if="m.task" :to="`/today?task=${m.task.id}`">
              {{ m.task.title }}
            </v-btn>
            <span v-else class="quiet">{{ m.why || sayStand(m.went) }}</span>
            <span class="small stand">
              <StandMark :stand="m.went" />
              {{ sayWent(m, session.today) }}
            </span>
          </div>
        </template>
      </div>
      <MarginPane v-if="body" label="The next dates">
        <SeriesRules
          v-if="isByEvents(body.schedule)"
          :series="current?.id ?? null"
          :rules="current?.rules ?? []"
        />
        <SeriesDates
          v-else
          :dates="dates"
          :wrong="datesWrong"
          :series="may && current && !dirty ? current.id : null"
          :left-out="current?.leftOut ?? []"
          @decided="looked"
        />
      </MarginPane>
    </div>
    <ClashAsk :clashes="clashes" what="this series" @settle="(form.settle($event), save())" />
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 12px;
  align-items: center;
}
.name {
  font: 500 24px/1.2 var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
}
.name:hover,
.name:placeholder-shown {
  border-color: var(--rule-strong);
}
.line {
  margin: 10px 0;
}
.once {
  border-left: 3px solid var(--ochre);
  padding: 2px 0 2px 12px;
  margin: 12px 0;
}
.once :deep(.v-selection-control) {
  margin-left: -8px;
}
.once :deep(.v-label) {
  font: inherit;
  letter-spacing: normal;
  opacity: 1;
}
.made {
  display: grid;
  grid-template-columns: 110px 1fr auto;
  gap: 10px;
  border-bottom: 1px solid var(--rule);
  padding: 7px 0;
}
.made a:hover {
  text-decoration: underline;
}
.stand {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
