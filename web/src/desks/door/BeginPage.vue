<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Countries, Usual } from '#contract/firm.ts'
import { get, post, sentence } from '#web/api/client.ts'
import { useForm } from '#web/forms/useForm.ts'
import ChoiceField from '#web/forms/ChoiceField.vue'
import LineField from '#web/forms/LineField.vue'
import { plural, sayDate, sayMinutes } from '#web/parts/say.ts'
import Sprig from '#web/parts/Sprig.vue'
import { useSession } from '#web/state/session.ts'
import WeekFields from '#web/forms/WeekFields.vue'
import {
  blank,
  bodyOf,
  CURRENCIES,
  hoursOf,
  likelyCountry,
  likelyZone,
  readWeek,
  weekFaults,
  ZONES,
} from './begin.ts'

/** The first page of an empty server: a firm, its days, and who is first in it. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const begun = { value: blank(), version: 0 }
const key = computed(() => (typeof route.query['key'] === 'string' ? route.query['key'] : null))
const { draft, busy, fault, faults, faultAt, save } = useForm({
  key: () => 'begin',
  held: () => begun,
  check: ({ hours }) => weekFaults(hours),
  async send(written) {
    await post('/beginning', bodyOf(written, key.value))
    return { value: written, version: 0 }
  },
})
const places = ref<Countries | null>(null)
const usual = ref<Usual | null>(null)
const wrong = ref('')
async function read<T>(path: string): Promise<T | null> {
  try {
    wrong.value = ''
    return await get<T>(path)
  } catch (error) {
    wrong.value = sentence(error)
    return null
  }
}
onMounted(async () => {
  places.value = await read<Countries>('/beginning')
  if (places.value && draft.value && !draft.value.country)
    draft.value.country = likelyCountry(navigator.languages, places.value.countries)
})
const placed = computed(() => `${draft.value?.country ?? ''}/${draft.value?.region ?? ''}`)
/** What is usual where the firm is: another country changes what was not said otherwise. */
watch(placed, async (place, before) => {
  const [country, region] = place.split('/')
  const moved = country !== before.split('/')[0]
  if (!country || !draft.value) return
  if (moved && region) return void (draft.value.region = '')
  const more = region ? `&region=${encodeURIComponent(region)}` : ''
  const found = await read<Usual>(`/beginning/usual?country=${country}${more}`)
  if (!found || !draft.value || placed.value !== place) return
  usual.value = found
  if (!moved) return
  draft.value.zone = likelyZone(found, Intl.DateTimeFormat().resolvedOptions().timeZone)
  draft.value.currency = found.currency
  draft.value.hours = hoursOf(found.week)
})

const week = computed(() =>
  draft.value
    ? Object.values(readWeek(draft.value.hours)).reduce((sum, minutes) => sum + minutes, 0)
    : 0,
)
/** Of places that stand at no field here. */
const rest = computed(() =>
  [wrong.value, fault.value, faults.value['key'], faults.value['hours']].filter(Boolean).join(' '),
)
async function begin(): Promise<void> {
  if (!(await save())) return
  await session.read()
  await router.push('/first-steps')
}
</script>

<template>
  <main v-if="draft" class="begin">
    <form @submit.prevent="begin">
      <Sprig :size="36" class="sprig" />
      <h1>Begin with Fernwick</h1>
      <p class="sub">A firm of your own: what its days are like, and who is first in it.</p>

      <h2 class="section">The firm</h2>
      <LineField v-model="draft.name" label="Name of the firm" needed :fault="faultAt('name')" />
      <div class="two">
        <ChoiceField
          v-model="draft.country"
          label="Country"
          :items="places?.countries ?? []"
          :fault="faultAt('country')"
        />
        <ChoiceField
          v-if="usual?.regions.length"
          v-model="draft.region"
          label="Region"
          :items="[{ code: '', name: 'the whole country' }, ...usual.regions]"
          :fault="faultAt('region')"
        />
        <ChoiceField
          v-model="draft.zone"
          label="Time zone"
          :items="ZONES"
          :fault="faultAt('zone')"
        />
        <ChoiceField
          v-model="draft.currency"
          label="Currency"
          :items="CURRENCIES"
          :fault="faultAt('currency')"
        />
      </div>

      <h2 class="section">
        Working hours
        <span>{{ sayMinutes(week) || 'none' }} a week; a day left empty is free</span>
      </h2>
      <WeekFields v-model="draft.hours" :fault-at="(day) => faultAt(`hours.${day}`)" />

      <h2 class="section">
        You
        <span>the owner, who may do everything here</span>
      </h2>
      <LineField
        v-model="draft.person.name"
        label="Your name"
        needed
        :fault="faultAt('person.name')"
      />
      <div class="two">
        <LineField
          v-model="draft.person.email"
          label="E-mail address"
          type="email"
          autocomplete="username"
          :most="200"
          needed
          :fault="faultAt('person.email')"
        />
        <LineField
          v-model="draft.person.password"
          label="Password, ten characters at least"
          type="password"
          autocomplete="new-password"
          :least="10"
          :most="200"
          needed
          :fault="faultAt('person.password')"
        />
      </div>
      <p v-if="places?.asksKey && !key" class="wrong">
        You come from another machine: open the address that the server wrote as it started.
      </p>
      <p v-if="rest" class="wrong" role="alert">{{ rest }}</p>
      <v-btn type="submit" variant="flat" :disabled="busy">Begin</v-btn>
    </form>
    <aside aria-label="Holidays">
      <h2 class="section">Holidays that come with it</h2>
      <p v-if="!usual" class="quiet small">Choose a country to see them.</p>
      <template v-else>
        <p class="quiet small">
          {{ plural(usual.holidays.length, 'day') }} in the next twelve months; work is planned
          around them.
        </p>
        <ol>
          <li v-for="h in usual.holidays" :key="h.date">
            <time :datetime="h.date">{{ sayDate(h.date) }}</time>
            {{ h.name }}
          </li>
        </ol>
      </template>
    </aside>
  </main>
</template>

<style scoped>
.begin {
  display: grid;
  grid-template-columns: minmax(0, 620px) minmax(0, 300px);
  gap: 48px;
  justify-content: center;
  padding: 5vh 20px 40px;
}
.sprig {
  color: var(--fern);
}
h1 {
  margin-top: 6px;
}
.section {
  margin: 20px 0 8px;
}
.two {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  column-gap: 14px;
}
aside {
  border-left: 1px solid var(--rule-strong);
  padding-left: 24px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 124px 1fr;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
  font-size: 12.5px;
}
time {
  color: var(--ink-2);
}
@media (max-width: 900px) {
  .begin {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
    padding: 18px 14px 30px;
  }
  aside {
    border-left: 0;
    padding-left: 0;
  }
}
@media (max-width: 520px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
