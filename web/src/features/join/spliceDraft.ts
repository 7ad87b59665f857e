import type { SplicerShows } from './splicer.ts'

/** An attempt under way, as far as it is entered. */
export interface SpliceDraft {
  sleeve: boolean
  colors: boolean
  light: boolean | null
  texts: { estimate: string; left: string; right: string }
  shows: SplicerShows | null
  proof: 'held' | 'broke' | null
  heating: 'good' | 'bad' | null
  remark: string
}

const NOTHING: SpliceDraft = {
  sleeve: false,
  colors: false,
  light: null,
  texts: { estimate: '', left: '', right: '' },
  shows: null,
  proof: null,
  heating: null,
  remark: '',
}

const nameOf = (key: string) => `cold-thread.splice.${key}`

/** What was entered for an attempt before the page was loaded anew. */
export function keptDraft(key: string): SpliceDraft {
  try {
    const kept = localStorage.getItem(nameOf(key))
    return kept === null ? NOTHING : { ...NOTHING, ...(JSON.parse(kept) as SpliceDraft) }
  } catch {
    return NOTHING
  }
}

/** Keeps an attempt on this device; null: it is entered. */
export function keepDraft(key: string, draft: SpliceDraft | null): void {
  try {
    if (draft === null) localStorage.removeItem(nameOf(key))
    else localStorage.setItem(nameOf(key), JSON.stringify(draft))
  } catch {
    // A full store keeps no draft; the entry itself has a store of its own.
  }
}
