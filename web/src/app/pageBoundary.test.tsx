import { screen } from '@testing-library/react'
import { lazy } from 'react'
import { expect, it, vi } from 'vitest'
import { renderPage } from '../test/page.tsx'
import { PageBoundary } from './PageBoundary.tsx'

it('a page whose code can’t come says so, and offers to load anew', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined)
  const Page = lazy(() => Promise.reject(new TypeError('Failed to fetch dynamically imported module')))
  renderPage(
    <PageBoundary page="a" loading="wait">
      <Page />
    </PageBoundary>,
  )
  expect(screen.getByText('wait')).toBeTruthy()
  expect((await screen.findByRole('alert')).textContent).toMatch(/newer version .* What you entered is kept/)
  expect(screen.getByRole('button', { name: 'Load anew' })).toBeTruthy()
})

it('a page that fails names what failed', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined)
  const Broken = (): never => {
    throw new Error('no such joint')
  }
  renderPage(
    <PageBoundary page="a" loading="wait">
      <Broken />
    </PageBoundary>,
  )
  expect((await screen.findByRole('alert')).textContent).toMatch(/This page failed: no such joint/)
})
