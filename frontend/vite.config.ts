import purgeCSSPlugin from '@fullhuman/postcss-purgecss'
import vue from '@vitejs/plugin-vue'
import type { Plugin } from 'postcss'
import { defineConfig } from 'vite'
import { compression } from 'vite-plugin-compression2'
import { VitePWA } from 'vite-plugin-pwa'

// Only what the pages use of Bootstrap. What its components build from pieces can't be found as a whole.
const FROM_PIECES = [/^btn/, /^form-/, /^modal/, /^is-/, /^show$/, /^fade$/, /^visually-hidden/]
const purge = purgeCSSPlugin({
  content: ['index.html', 'src/**/*.vue', 'src/**/*.ts'],
  safelist: { standard: FROM_PIECES, deep: [/^form-check/, /^modal/], greedy: [/data-bs-theme/] },
}) as Plugin
const purgedBootstrap: Plugin = {
  postcssPlugin: 'purged-bootstrap',
  OnceExit: (root, helpers) =>
    /bootstrap/.test(root.source?.input.file ?? '') ? (purge.OnceExit as NonNullable<Plugin['OnceExit']>)(root, helpers) : undefined,
}

export default defineConfig({
  plugins: [
    vue(),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src',
      filename: 'sw.ts',
      // A new version waits until it is asked for: a page that reloads by itself would lose what is being typed.
      registerType: 'prompt',
      injectRegister: false,
      injectManifest: { globPatterns: ['**/*.{js,css,html,svg,woff2}'] },
      manifest: {
        name: 'Icepick',
        short_name: 'Icepick',
        description: 'Diagnose the refrigerant circuit of a heat pump',
        start_url: '/calls',
        display: 'standalone',
        background_color: '#11181d',
        theme_color: '#11181d',
        icons: [{ src: '/icepick.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
    }),
    compression({ algorithms: ['gzip', 'brotliCompress'], exclude: [/\.woff2$/, /\.(gz|br)$/] }),
  ],
  css: { postcss: { plugins: [purgedBootstrap] } },
  build: { outDir: '../src/icepick/web/app', emptyOutDir: true, assetsInlineLimit: 0 },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:8321', changeOrigin: true } } },
})
