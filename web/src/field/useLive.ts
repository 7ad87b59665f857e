import { useEffect } from 'react'
import { api } from '../api/api.ts'
import { useAppDispatch } from '../app/store.ts'

type Tag = 'Kit' | 'Log' | 'Traces' | 'Plans' | 'Callouts' | 'Survey' | 'Verdict' | 'Attachments'

/** What a change means for what is on the screen. */
const READ_ANEW: Record<string, Tag[]> = {
  log: ['Log', 'Callouts', 'Verdict'],
  'session-end': ['Log', 'Callouts', 'Verdict', 'Kit'],
  traces: ['Traces', 'Callouts', 'Verdict'],
  plans: ['Plans', 'Callouts'],
  callout: ['Callouts'],
  survey: ['Survey'],
  attachments: ['Attachments'],
  'sign-off': ['Verdict', 'Callouts'],
  everything: ['Log', 'Traces', 'Plans', 'Callouts', 'Survey', 'Verdict', 'Attachments', 'Kit'],
}

/** Reads anew what others change on an open callout, as soon as they do; the browser resumes by itself after a break. */
export function useLive(calloutId: string | undefined): void {
  const dispatch = useAppDispatch()
  useEffect(() => {
    if (calloutId === undefined || !('EventSource' in globalThis)) return
    const source = new EventSource(`/api/callouts/${calloutId}/live`)
    source.onmessage = ({ data }: MessageEvent<string>) => {
      const tags = READ_ANEW[data]
      if (tags) dispatch(api.util.invalidateTags(tags))
    }
    return () => source.close()
  }, [calloutId, dispatch])
}
