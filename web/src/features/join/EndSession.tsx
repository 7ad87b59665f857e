import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'

/** Shards are glass in skin and eyes: a session is ended only with both said. */
export function EndSession({
  left,
  busy,
  onEnd,
}: {
  /** Splices that are neither accepted nor stopped. */
  left: number
  busy: boolean
  onEnd(remark: string): Promise<unknown>
}) {
  const [bin, setBin] = useState(false)
  const [mat, setMat] = useState(false)
  const [remark, setRemark] = useState('')
  const tick = (label: string, checked: boolean, set: (on: boolean) => void) => (
    <FormControlLabel
      control={<Checkbox checked={checked} onChange={({ target }) => set(target.checked)} />}
      label={<strong>{label}</strong>}
      sx={{ display: 'flex', minHeight: 48 }}
    />
  )
  return (
    <Section title="End the session">
      {tick('The bin with the shards is closed', bin, setBin)}
      {tick('The mat is taped and folded, every shard in it', mat, setMat)}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1, alignItems: 'flex-start' }}>
        <TextField
          label={left > 0 ? `Remark: ${left === 1 ? '1 splice is' : `${left} splices are`} left` : 'Remark'}
          value={remark}
          onChange={({ target }) => setRemark(target.value)}
          slotProps={{ htmlInput: { maxLength: 500 } }}
          sx={{ flex: '1 1 260px' }}
        />
        <Button
          variant="outlined"
          size="large"
          disabled={!bin || !mat || busy}
          onClick={() => void onEnd(remark.trim())}
          sx={{ minHeight: 56 }}
        >
          End the session
        </Button>
      </Box>
    </Section>
  )
}
