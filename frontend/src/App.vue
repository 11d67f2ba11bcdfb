<script setup lang="ts">
import { nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import { useGoKeys } from './composables/useGoKeys'
import { shutKeys } from './composables/useKeys'
import { useKeptFocus } from './composables/useKeptFocus'
import { useServiceWorker } from './composables/useServiceWorker'
import SignIn from './people/SignIn.vue'
import DropZone from './shell/DropZone.vue'
import TopBar from './shell/TopBar.vue'
import { useCatalogue } from './stores/catalogue'
import { useOutbox } from './stores/outbox'
import { useSession } from './stores/session'

const catalogue = useCatalogue()
const session = useSession()
const main = useTemplateRef<HTMLElement>('main')
const { newer, change } = useServiceWorker()
const trouble = ref('')

async function start() {
  trouble.value = ''
  try {
    await session.load()
    if (!session.outside) await catalogue.load()
  } catch (error) {
    trouble.value = (error as Error).message
  }
}
onMounted(start)
// Whoever signs in again goes on where the cursor was.
let cursor: Element | null = null
watch(
  () => session.outside,
  async (outside) => {
    shutKeys(outside)
    if (outside) return void (cursor = document.activeElement)
    await start()
    await nextTick()
    if (cursor instanceof HTMLElement && cursor.isConnected) cursor.focus()
  },
  { flush: 'sync' },
)
// What waits here is sent from whatever screen is open.
onMounted(() => useOutbox().flush())

useKeptFocus(() => main.value)

const route = useRoute()
useGoKeys(() => {
  // A number behind /bench is an attempt's, not a visit's.
  const id = route.path.startsWith('/visits/') ? route.params.id : undefined
  return {
    c: '/calls',
    u: '/units',
    h: '/handbook',
    ...(session.may('practice') ? { b: '/bench' } : {}),
    ...(id ? { w: { name: 'walk', params: { id } }, p: { name: 'recorder', params: { id } }, r: { name: 'report', params: { id } } } : {}),
  }
})
</script>

<template>
  <div class="app">
    <a class="skip" href="#main" @click.prevent="main?.focus()">to the content</a>
    <TopBar />
    <p v-if="newer" class="newer" role="status">
      A newer Icepick is ready. <button type="button" class="btn btn-sm" @click="change">Load it now</button>
    </p>
    <DropZone />
    <main v-if="session.outside"><SignIn /></main>
    <!-- Who has to sign in again finds everything as it was. -->
    <main v-show="!session.outside" id="main" ref="main" tabindex="-1">
      <RouterView v-if="catalogue.catalogue" />
      <p v-else-if="trouble" class="alert-line m-3" role="alert">
        {{ trouble }} <button type="button" class="btn btn-sm" @click="start">Try again</button>
      </p>
    </main>
  </div>
</template>

<style scoped>
.app {
  display: flex;
  flex-direction: column;
  min-height: 100%;
}
.newer {
  margin: 0;
  padding: 0.2rem var(--gap);
  border-bottom: 1px solid var(--hair);
}
.skip {
  position: absolute;
  left: -99rem;
  z-index: 5;
  min-height: var(--target);
  align-content: center;
  padding: 0 var(--gap);
  background: var(--panel);
}
.skip:focus {
  left: 0;
}
main:focus {
  outline: none;
}
main {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
@media (min-width: 64rem) {
  .app {
    height: 100%;
  }
}
@media print {
  .app {
    height: auto;
  }
}
</style>
