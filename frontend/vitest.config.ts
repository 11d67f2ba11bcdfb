import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  // One page for all files: to make one takes longer than every test in it. Each test begins with an empty store.
  test: { environment: 'jsdom', isolate: false, include: ['tests/**/*.test.ts'], setupFiles: ['tests/setup.ts'], restoreMocks: true },
})
