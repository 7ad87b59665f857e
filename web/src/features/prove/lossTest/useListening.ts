import { useEffect, useRef, useState } from 'react'

/** An instrument that says nothing for so long is silent, ms. */
const PATIENCE = 4000

/**
 * Listens to an instrument until what it sent is enough.
 * @param name of the instrument, for people
 * @param take what it sends; says whether that is enough, or `nonsense` where it can't be a reading
 * @returns what is wrong with the instrument, in words; null while nothing is
 */
export function useListening<T>(
  instrument: { listen(onValue: (value: T) => void): () => void },
  name: string,
  take: (value: T) => 'more' | 'enough' | 'nonsense',
): string | null {
  const [trouble, setTrouble] = useState<string | null>(null)
  const taken = useRef(take)
  useEffect(() => {
    taken.current = take
  })
  useEffect(() => {
    let done = false
    const silent = () =>
      setTrouble(`The ${name} is silent: look at its cable and battery, or enter what it shows by hand.`)
    let patience = setTimeout(silent, PATIENCE)
    const stop = instrument.listen((value) => {
      if (done) return
      clearTimeout(patience)
      patience = setTimeout(silent, PATIENCE)
      const said = taken.current(value)
      done = said === 'enough'
      if (done) clearTimeout(patience)
      setTrouble(
        said === 'nonsense'
          ? `The ${name} sends what can’t be a reading: nothing is taken. Enter what it shows by hand.`
          : null,
      )
    })
    return () => {
      clearTimeout(patience)
      stop()
    }
  }, [instrument, name])
  return trouble
}
