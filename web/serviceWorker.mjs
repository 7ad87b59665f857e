// After the build: a service worker that keeps this version's code, fonts and icons, so that the app opens without network.
import { generateSW } from 'workbox-build'
import { fileURLToPath } from 'node:url'

const dist = fileURLToPath(new URL('dist/', import.meta.url))

const { count, size, warnings } = await generateSW({
  globDirectory: dist,
  globPatterns: ['**/*.{html,js,css,svg,woff2,webmanifest}'],
  swDest: `${dist}sw.js`,
  // A new version waits until the person takes it.
  skipWaiting: false,
  clientsClaim: true,
  cleanupOutdatedCaches: true,
  navigateFallback: '/index.html',
  navigateFallbackDenylist: [/^\/api\//],
  inlineWorkboxRuntime: true,
  sourcemap: false,
  maximumFileSizeToCacheInBytes: 8 * 1024 * 1024,
})
for (const warning of warnings) console.warn(warning)
console.log(`service worker: ${count} files, ${(size / 1e6).toFixed(1)} MB`)
