/// <reference lib="webworker" />
// The service worker: Icepick opens without a server once it was loaded, and shows what it knew last.
import { clientsClaim, type WorkboxPlugin } from 'workbox-core'
import { ExpirationPlugin } from 'workbox-expiration'
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'
import { NetworkFirst } from 'workbox-strategies'
import { ANSWERS, FROM_MEMORY } from './stores/memory'

declare const self: ServiceWorkerGlobalScope

const FILES = /^\/api\/imports|\/archive$/

clientsClaim()
precacheAndRoute(self.__WB_MANIFEST)
cleanupOutdatedCaches()
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//] }))

registerRoute(
  // What changed since some revision is of use once; files that are taken out are not for this device's memory.
  ({ url }) => url.pathname.startsWith('/api/') && !url.searchParams.has('since') && !FILES.test(url.pathname),
  new NetworkFirst({
    cacheName: ANSWERS,
    plugins: [
      new ExpirationPlugin({ maxEntries: 300 }) as WorkboxPlugin,
      {
        cachedResponseWillBeUsed: async ({ cachedResponse }) => {
          if (!cachedResponse) return null
          const headers = new Headers(cachedResponse.headers)
          headers.set(FROM_MEMORY, '1')
          return new Response(cachedResponse.body, { status: cachedResponse.status, headers })
        },
      },
    ],
  }),
)

// What only the server can answer does not pass through this worker, where the browser knows routes.
self.addEventListener('install', (event: ExtendableEvent & { addRoutes?: (routes: object[]) => Promise<void> }) => {
  const onlyTheServer = { or: [{ requestMethod: 'POST' }, { urlPattern: { pathname: '/api/*', search: '*since=*' } }] }
  event.waitUntil(event.addRoutes?.([{ condition: onlyTheServer, source: 'network' }]) ?? Promise.resolve())
})

// A new version waits until whoever works here asks for it.
self.addEventListener('message', (event) => {
  if ((event.data as { type?: string } | null)?.type === 'SKIP_WAITING') void self.skipWaiting()
})
