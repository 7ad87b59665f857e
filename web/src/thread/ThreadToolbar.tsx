import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import { memo } from 'react'
import { AddIcon, RemoveIcon } from '../ui/icons.tsx'
import { RULERS, type RulerKind } from './axisTicks.ts'
import type { RulerMoves } from './useRuler.ts'

/** What can be set on the thread view; drawn anew only when that changes, not with every frame. */
export const ThreadToolbar = memo(function ThreadToolbar({
  wavelengths,
  wavelength,
  onWavelength,
  kind,
  onKind,
  measuring,
  onMeasure,
  onWhole,
  onFault,
  move,
}: {
  wavelengths: readonly number[]
  wavelength: number
  onWavelength(wavelength: number): void
  kind: RulerKind
  onKind(kind: RulerKind): void
  measuring: boolean
  onMeasure(): void
  onWhole(): void
  /** null where there is no fault to go to */
  onFault: (() => void) | null
  move: RulerMoves
}) {
  return (
    <>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={wavelength}
        onChange={(_, value: number | null) => value !== null && onWavelength(value)}
        aria-label="Wavelength"
      >
        {wavelengths.map((nm) => (
          <ToggleButton key={nm} value={nm} sx={{ minHeight: 44, px: 1.5 }}>
            {nm} nm
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Button variant="outlined" onClick={onWhole}>
        Whole link
      </Button>
      {onFault && (
        <Button variant="outlined" onClick={onFault}>
          To the fault
        </Button>
      )}
      <IconButton aria-label="Zoom in" onClick={() => move.zoomBy(1.6)}>
        <AddIcon />
      </IconButton>
      <IconButton aria-label="Zoom out" onClick={() => move.zoomBy(1 / 1.6)}>
        <RemoveIcon />
      </IconButton>
      <ToggleButton
        value="measure"
        size="small"
        selected={measuring}
        onChange={onMeasure}
        sx={{ minHeight: 44, px: 1.5 }}
      >
        Measure
      </ToggleButton>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={kind}
        onChange={(_, value: RulerKind | null) => value !== null && onKind(value)}
        aria-label="Ruler"
      >
        {RULERS.map(([value, word, title]) => (
          <ToggleButton key={value} value={value} title={title} sx={{ minHeight: 44, px: 1.5 }}>
            {word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </>
  )
})
