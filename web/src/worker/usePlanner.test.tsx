import { act, renderHook, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { usePlanner, useProgress } from './usePlanner.ts'
import type { PlanOutcome } from './planner.ts'
import { workers, type StartedPlanner } from './workers.ts'

// The worker itself is tried in the browser journeys; here is what the page makes of its answers.
const ended: string[] = []
beforeEach(() => {
  ended.length = 0
  vi.spyOn(workers, 'startPlanner').mockImplementation(() => ({
    planner: {} as StartedPlanner['planner'],
    terminate: () => void ended.push('worker'),
  }))
})

interface Run {
  answer(outcome: PlanOutcome<number>): void
  tell(part: number): void
}

function start(first: string | null) {
  const runs: Run[] = []
  const hook = renderHook(
    ({ key }: { key: string | null }) =>
      usePlanner<number>(key, (_planner, tell) => new Promise((answer) => runs.push({ answer, tell }))),
    { initialProps: { key: first } },
  )
  return { hook, runs, result: hook.result }
}

describe('a computation that can be cancelled', () => {
  it('shows progress, then its value; progress that comes in late changes nothing', async () => {
    const { runs, result } = start('a')
    const shown = renderHook(() => useProgress(result.current.progress))
    act(() => runs[0]!.tell(0.4))
    expect(result.current.status).toBe('working')
    expect(shown.result.current).toBe(0.4)
    await act(async () => runs[0]!.answer({ value: 7 }))
    act(() => runs[0]!.tell(0.8))
    expect(shown.result.current).toBe(0.4)
    expect(result.current).toMatchObject({ status: 'ready', value: 7 })
  })

  it('begins anew when its key changes, ends what ran before, and keeps the last value at hand', async () => {
    const { hook, runs, result } = start('a')
    await act(async () => runs[0]!.answer({ value: 7 }))
    hook.rerender({ key: 'b' })
    expect(result.current).toMatchObject({ status: 'working', last: 7 })
    hook.rerender({ key: 'c' })
    await waitFor(() => expect(runs).toHaveLength(3))
    expect(ended.length).toBeGreaterThanOrEqual(2)
    await act(async () => runs[1]!.answer({ value: 1 }))
    expect(result.current.status).toBe('working')
    await act(async () => runs[2]!.answer({ problem: 'each waits for the one before' }))
    expect(result.current).toMatchObject({ status: 'failed', problem: 'each waits for the one before', last: 7 })
  })

  it('is cancelled by ending its worker, and computes nothing without a key', () => {
    const { runs, result } = start('a')
    act(() => result.current.cancel())
    expect(result.current.status).toBe('cancelled')
    expect(ended).toHaveLength(1)
    expect(runs).toHaveLength(1)
    expect(start(null).runs).toHaveLength(0)
  })
})
