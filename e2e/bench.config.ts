// npm run bench:frames: what a frame of zooming and panning costs the page, on the demo in headless Chromium.
import { defineConfig } from '@playwright/test'
import base from './playwright.config.ts'

export default defineConfig(base, { testDir: './bench', timeout: 300_000 })
