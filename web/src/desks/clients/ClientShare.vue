<script setup lang="ts">
import type { ShareRow } from '#contract/access.ts'
import type { ClientSheet } from '#contract/clients.ts'
import ShareList from '#web/desks/access/ShareList.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useResource } from '#web/state/resource.ts'

/** With whom all that is done for a client is shared. */
const { client } = defineProps<{ client: ClientSheet }>()
const emit = defineEmits<{ close: [] }>()
const home = `/clients/${client.id}/shares`
const { data, error, reload } = useResource<ShareRow[]>(
  () => home,
  (c) => c.entities.includes('shares'),
)
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="620"
    :aria-label="`Share ${client.name}`"
    @update:model-value="emit('close')"
  >
    <div class="dialog">
      <h3>Share {{ client.name }}</h3>
      <p class="small quiet">
        All projects for this client, but those for people by name, and its work in no project.
      </p>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <ShareList v-else :structure="false" :shares="data" :home="home" @changed="reload" />
      <div class="btns"><v-btn @click="emit('close')">Close</v-btn></div>
    </div>
  </v-dialog>
</template>

<style scoped>
.btns {
  margin-top: 12px;
}
</style>
