import { renderHook, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useAwake } from './useAwake.ts'

const released = vi.fn()
const request = vi.fn(() => Promise.resolve({ released: false, release: () => Promise.resolve(released()) }))
afterEach(() => {
  Reflect.deleteProperty(navigator, 'wakeLock')
  vi.clearAllMocks()
})

/** Everything that was put off until now is done. */
const turn = () => new Promise((resolve) => setImmediate(resolve))

describe('a screen that stays on', () => {
  it('is asked for while a step is worked on, and let go afterwards', async () => {
    Object.assign(navigator, { wakeLock: { request } })
    const hook = renderHook(({ active }) => useAwake(active), { initialProps: { active: true } })
    await waitFor(() => expect(request).toHaveBeenCalledWith('screen'))
    document.dispatchEvent(new Event('visibilitychange'))
    await turn()
    expect(request).toHaveBeenCalledTimes(1)
    hook.rerender({ active: false })
    await waitFor(() => expect(released).toHaveBeenCalled())
  })

  it('is done without where the browser can’t or will not', async () => {
    renderHook(() => useAwake(true))
    Object.assign(navigator, { wakeLock: { request: vi.fn(() => Promise.reject(new Error('battery low'))) } })
    renderHook(() => useAwake(true))
    await turn()
    expect(released).not.toHaveBeenCalled()
  })
})
