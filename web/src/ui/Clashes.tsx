import Box from '@mui/material/Box'
import FormControlLabel from '@mui/material/FormControlLabel'
import Radio from '@mui/material/Radio'
import RadioGroup from '@mui/material/RadioGroup'
import Typography from '@mui/material/Typography'

/** Something that two people changed, each in their own way; null: taken out. */
export interface Clash {
  path: string
  /** What it is, where its values do not say so. */
  name?: string
  mine: string | null
  theirs: string | null
}

/** Both versions of what two people changed, to be chosen from; nothing is chosen for them. */
export function Clashes({
  clashes,
  by,
  choices,
  onChoose,
}: {
  clashes: readonly Clash[]
  /** Whoever saved meanwhile. */
  by: string
  choices: ReadonlyMap<string, 'mine' | 'theirs'>
  onChoose(path: string, side: 'mine' | 'theirs'): void
}) {
  const option = (side: 'mine' | 'theirs', who: string, text: string | null) => (
    <FormControlLabel
      value={side}
      control={<Radio />}
      sx={{ alignItems: 'flex-start', mr: 0 }}
      label={
        <Box sx={{ pt: 1.1 }}>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{who}</Typography>
          <Typography sx={{ overflowWrap: 'anywhere' }}>{text === null ? 'taken out' : text || 'empty'}</Typography>
        </Box>
      }
    />
  )
  return (
    <>
      {clashes.map(({ path, name, mine, theirs }) => (
        <RadioGroup
          key={path}
          aria-label={name ?? `${mine ?? theirs}`}
          value={choices.get(path) ?? ''}
          onChange={(_, side) => onChoose(path, side as 'mine' | 'theirs')}
          sx={{ borderBottom: 1, borderColor: 'divider', py: 0.5 }}
        >
          {name !== undefined && <Typography sx={{ fontWeight: 650 }}>{name}</Typography>}
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, columnGap: 2 }}>
            {option('mine', 'yours', mine)}
            {option('theirs', by, theirs)}
          </Box>
        </RadioGroup>
      ))}
    </>
  )
}
