import { createElement, lazy, useState, type ComponentType, type ReactNode } from 'react'

/** A page, or a dialog, whose code is read when it is first shown, or ahead of that: then it stands at once. */
export interface Page<Props extends object> {
  (props: Props): ReactNode
  readAhead(): Promise<unknown>
}

/** @param load reads the page's component */
export function page<Props extends object>(load: () => Promise<ComponentType<Props>>): Page<Props> {
  let known: ComponentType<Props> | null = null
  const read = async () => {
    known = await load()
    return { default: known }
  }
  const Later = lazy(read)
  const Shown = (props: Props) => {
    // What has begun as one component stays it.
    const [View] = useState<ComponentType<Props>>(() => known ?? Later)
    return createElement(View, props)
  }
  return Object.assign(Shown, { readAhead: read })
}
