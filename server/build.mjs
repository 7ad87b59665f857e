// Bundles the server and its worker for production.
import { fileURLToPath } from 'node:url'
import { bundle } from './bundle.mjs'

await bundle(['main', 'jobs/worker'], fileURLToPath(new URL('dist', import.meta.url)))
