import TextField from '@mui/material/TextField'

/** Lengths of the cords at a link's two ends, m, as they are typed. */
export interface Cords {
  from: string
  to: string
}

/** A typed length; undefined where nothing is known. */
export function cordMetres(text: string): number | undefined {
  return text.trim() === '' ? undefined : Number(text)
}

/** Near and far cord of a shot, m, by the end that it was shot from. */
export function cordsOfShot(cords: Cords, direction: 'ab' | 'ba'): { launchCord?: number; receiveCord?: number } {
  const [near, far] = direction === 'ab' ? [cords.from, cords.to] : [cords.to, cords.from]
  const [launchCord, receiveCord] = [cordMetres(near), cordMetres(far)]
  return {
    ...(launchCord === undefined ? {} : { launchCord }),
    ...(receiveCord === undefined ? {} : { receiveCord }),
  }
}

export function CordFields({
  cords,
  onChange,
  names,
}: {
  cords: Cords
  onChange(cords: Cords): void
  /** Names of the two ends. */
  names: { from: string; to: string }
}) {
  return (['from', 'to'] as const).map((end) => (
    <TextField
      key={end}
      label={`Cord at ${names[end]}, m`}
      size="small"
      type="number"
      value={cords[end]}
      onChange={(event) => onChange({ ...cords, [end]: event.target.value })}
      sx={{ width: 210 }}
    />
  ))
}
