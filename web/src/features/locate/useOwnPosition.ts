import { useEffect, useState } from 'react'

/** Where this device is, once asked for. */
export type OwnPosition =
  | { status: 'off' }
  | { status: 'asking' }
  /** [longitude, latitude] in degrees, and the radius of 95 % confidence, m, that the device claims. */
  | { status: 'known'; position: [number, number]; accuracy: number }
  | { status: 'refused'; why: string }

/** Follows the device's position while `wanted`; nothing is asked before. */
export function useOwnPosition(wanted: boolean): OwnPosition {
  const [state, setState] = useState<OwnPosition>({ status: 'asking' })
  useEffect(() => {
    if (!wanted || !('geolocation' in navigator)) return
    const watch = navigator.geolocation.watchPosition(
      ({ coords }) =>
        setState({ status: 'known', position: [coords.longitude, coords.latitude], accuracy: coords.accuracy }),
      (error) =>
        setState({
          status: 'refused',
          why:
            error.code === error.PERMISSION_DENIED
              ? 'The browser does not allow it: allow the position for this address in its settings.'
              : 'The device does not know where it is: try under open sky.',
        }),
      { enableHighAccuracy: true, maximumAge: 5000, timeout: 30_000 },
    )
    return () => navigator.geolocation.clearWatch(watch)
  }, [wanted])
  if (!wanted) return { status: 'off' }
  return 'geolocation' in navigator ? state : { status: 'refused', why: 'This browser has no position to give.' }
}
