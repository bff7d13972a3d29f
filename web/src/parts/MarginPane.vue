<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { useDisplay } from 'vuetify'
import { escapes } from './escape.ts'
import { useNarrow } from './narrow.ts'
import { isOpener, useFocusBack } from './focus-back.ts'

/**
 * The margin of a page: in sight and scrolling by itself. What is opened in it takes the focus, and
 * gives it back where it came from; where there is no room beside the page it covers it.
 */
const props = defineProps<{
  label: string
  /** What is opened in it; null: what stands there belongs to the page. */
  opened?: number | string | null
}>()
const emit = defineEmits<{ close: [] }>()
const { width } = useDisplay()
const narrow = useNarrow()
const covers = computed(() => props.opened != null && narrow.value)
const pane = ref<HTMLElement | null>(null)
const holds = () => pane.value?.contains(document.activeElement) ?? false
/** Whoever opens something and goes on with what they were at is left to it. */
const isFree = () => {
  const holder = document.activeElement
  return !(holder instanceof HTMLElement) || holder === document.body || isOpener(holder)
}
const { note, giveBack } = useFocusBack()

watch(
  () => props.opened ?? null,
  async (now, before) => {
    const leaving = holds()
    if (before == null && now !== null) note()
    if (now === null) return leaving ? giveBack() : undefined
    await nextTick()
    if (!pane.value) return
    pane.value.scrollTop = 0
    if (!holds() && (covers.value || isFree())) pane.value.focus({ preventScroll: true })
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  if (props.opened != null && holds()) void giveBack()
})
const close = (event: KeyboardEvent) => {
  if (props.opened != null) escapes(event, () => emit('close'))
}
</script>

<template>
  <v-navigation-drawer
    v-if="covers"
    tag="aside"
    class="margin"
    location="right"
    temporary
    retain-focus
    disable-route-watcher
    disable-resize-watcher
    :width="Math.min(width, 480)"
    :model-value="true"
    :aria-label="label"
    @update:model-value="emit('close')"
  >
    <div ref="pane" class="pane" tabindex="-1" role="group" :aria-label="label" @keydown="close">
      <slot />
    </div>
  </v-navigation-drawer>
  <aside v-else class="margin" :aria-label="label">
    <div ref="pane" class="pane" tabindex="-1" role="group" :aria-label="label" @keydown="close">
      <slot />
    </div>
  </aside>
</template>

<style scoped>
.margin {
  padding: 0;
}
.pane {
  position: sticky;
  top: 0;
  max-height: var(--pane, 100dvh);
  padding: 18px;
  scrollbar-width: thin;
  overflow-y: auto;
}
.pane:focus {
  outline: none;
}
@media (max-width: 900px) {
  aside:not(.v-navigation-drawer) .pane {
    max-height: none;
  }
  .v-navigation-drawer .pane {
    max-height: none;
    min-height: 100%;
    overflow: visible;
  }
}
</style>
