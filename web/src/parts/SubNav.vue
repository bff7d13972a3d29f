<script setup lang="ts">
import { useRoute } from 'vue-router'
import LineMenu, { type MenuLine } from './LineMenu.vue'
import { useNarrow } from './narrow.ts'

/**
 * The parts of a desk, with what can be done in the present one at the right; on a narrow page the
 * `more` of it are in a menu.
 */
const props = defineProps<{
  label: string
  links: readonly { to: string; name: string; own?: RegExp }[]
  more?: readonly MenuLine[]
}>()
const narrow = useNarrow()
const route = useRoute()
const best = () =>
  props.links
    .filter((l) => (l.own ? l.own.test(route.path) : route.path.startsWith(l.to)))
    .map((l) => l.to)
    .sort((a, b) => b.length - a.length)[0]
</script>

<template>
  <div class="subnav">
    <nav :aria-label="label">
      <v-btn
        variant="plain"
        v-for="link in links"
        :key="link.to"
        :to="link.to"
        :class="{ on: link.to === best() }"
      >
        {{ link.name }}
      </v-btn>
    </nav>
    <span class="gap" />
    <slot />
    <LineMenu v-if="narrow && more?.length" :label="`More of ${label}`" :lines="more" />
    <template v-else>
      <v-btn
        v-for="line in more"
        :key="line.name"
        active-class="lit"
        :to="line.to"
        @click="line.run?.()"
      >
        {{ line.name }}
      </v-btn>
    </template>
  </div>
</template>

<style scoped>
.subnav {
  display: flex;
  gap: 6px;
  min-height: 42px;
  align-items: center;
  padding: 4px 20px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--sheet);
}
/* Too many for a line are pulled along it. */
nav {
  display: flex;
  gap: 4px;
  min-width: 0;
  overflow-x: auto;
  scrollbar-width: none;
}
nav a {
  flex: none;
  padding: 5px 12px;
  border-radius: 4px;
  color: var(--ink-2);
  font-weight: 550;
}
nav a.on {
  background: var(--fern-wash);
  color: var(--fern);
}
.gap {
  flex: 1;
}
@media (max-width: 700px) {
  .subnav {
    padding: 4px 8px;
  }
  nav a {
    padding: 5px 8px;
  }
}
</style>
