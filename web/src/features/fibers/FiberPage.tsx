import {
  colorInWords,
  colorOfPosition,
  fiberAtPlace,
  groupingOf,
  placeOfFiber,
  RIBBON,
  whyNotFound,
  type ColorOrder,
  type FiberPlace,
  type FiberRecord,
} from '@cold-thread/core/fiber'
import type { Cable, PlantBundle } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { usePlantQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { FiberWords } from './FiberWords.tsx'
import { Strand } from './Strand.tsx'

/** Which fiber is this? By its number, or by what is seen on it: either tells the other. */
export function FiberPage() {
  const { data: plant, error } = usePlantQuery()
  if (error) return <Problem error={error} />
  if (!plant) return <CircularProgress aria-label="Loading" />
  return (
    <>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Fiber finder
      </Typography>
      {plant.bundle && plant.bundle.cables.length > 0 ? (
        <Finder plant={plant.bundle} />
      ) : (
        <Typography>No cable is in the plant record yet.</Typography>
      )}
    </>
  )
}

/** The cable and fiber are in the address, so that a page can lead here. */
function Finder({ plant }: { plant: PlantBundle }) {
  const [params, setParams] = useSearchParams()
  const cable = plant.cables.find(({ id }) => id === params.get('cable')) ?? plant.cables[0]!
  const given = Number(params.get('fiber') ?? '1')
  const fiber = Number.isInteger(given) && given >= 1 && given <= cable.fiberCount ? given : 1
  const go = (cableId: string, number: number) =>
    setParams({ cable: cableId, fiber: String(number) }, { replace: true })
  const why = whyNotFound(cable)
  return (
    <Section title={`Cable ${cable.id}`}>
      <SelectField
        label="Cable"
        value={cable.id}
        onChoose={(value) => go(value, 1)}
        sx={{ minWidth: 260, mt: 1, mb: 2 }}
        options={plant.cables.map(
          ({ id, fiberCount, construction }) => [id, `${id}, ${fiberCount} fibers, ${construction}`] as const,
        )}
      />
      {why === null ? (
        <Found key={cable.id} cable={cable} fiber={fiber} onFiber={(number) => go(cable.id, number)} />
      ) : (
        <Alert severity="warning" variant="outlined">
          {why}.
        </Alert>
      )}
    </Section>
  )
}

function Found({ cable, fiber, onFiber }: { cable: Cable; fiber: number; onFiber(fiber: number): void }) {
  const [text, setText] = useState<string | null>(null)
  const place = placeOfFiber(cable, fiber)
  const shown = text ?? String(fiber)
  const read = Number(shown)
  const bad = shown.trim() === '' || !Number.isInteger(read) || read < 1 || read > cable.fiberCount
  const choose = (some: Partial<Pick<FiberPlace, 'group' | 'ribbon' | 'position'>>) => {
    setText(null)
    onFiber(nearest(cable, { ...place, ...some }))
  }
  const inBundles = groupingOf(cable) === 'ribbons in bundles'
  // The last tube, and the last ribbon in it, need not be full.
  const inGroup = Math.min(cable.tubeSize, cable.fiberCount - (place.group - 1) * cable.tubeSize)
  const inRibbon = place.ribbon === null ? inGroup : Math.min(RIBBON, inGroup - (place.ribbon - 1) * RIBBON)
  const colored = (at: number) => `${at} ${colorInWords(colorOfPosition(at, cable.colorOrder as ColorOrder))}`
  return (
    <>
      <Typography sx={{ fontSize: '2.2rem', fontWeight: 650, lineHeight: 1.2 }}>Fiber {fiber}</Typography>
      <Typography sx={{ fontSize: '1.25rem', mb: 2 }}>
        <FiberWords place={place} />
        <Box component="span" sx={{ fontSize: 14, color: 'text.secondary' }}>
          {' '}
          {cable.colorOrder}
          {inBundles && ', bundles by their binder threads'}
        </Box>
      </Typography>
      <TextField
        label={`Number, 1 to ${cable.fiberCount}`}
        value={shown}
        error={bad}
        helperText={bad ? `a whole number from 1 to ${cable.fiberCount}` : ' '}
        onChange={({ target }) => {
          setText(target.value)
          const number = Number(target.value)
          if (target.value.trim() !== '' && Number.isInteger(number) && number >= 1 && number <= cable.fiberCount)
            onFiber(number)
        }}
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
        sx={{ minWidth: 200, mb: 1 }}
      />
      <Typography sx={{ color: 'text.secondary', mb: 1 }}>or by what is seen on it</Typography>
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 560 }}>
        <Choice
          label={place.groupWord[0]!.toUpperCase() + place.groupWord.slice(1)}
          value={place.group}
          most={Math.ceil(cable.fiberCount / cable.tubeSize)}
          onChange={(group) => choose({ group })}
          wordOf={inBundles ? String : colored}
          strand={<Strand color={place.groupColor} />}
        />
        {place.ribbon !== null && (
          <Choice
            label="Ribbon"
            value={place.ribbon}
            most={Math.ceil(inGroup / RIBBON)}
            onChange={(ribbon) => choose({ ribbon })}
            wordOf={inBundles ? (ribbon) => `${ribbon}: ${ribbon} ring ${ribbon === 1 ? 'mark' : 'marks'}` : colored}
            strand={<Strand color={place.ribbonColor} rings={place.ribbonColor === null ? place.ribbon : 0} />}
          />
        )}
        <Choice
          label="Fiber"
          value={place.position}
          most={inRibbon}
          onChange={(position) => choose({ position })}
          wordOf={colored}
          strand={<Strand color={place.color} />}
        />
      </Box>
    </>
  )
}

/** The fiber at a place; in a last tube that is not full, its last one. */
function nearest(cable: FiberRecord, place: Pick<FiberPlace, 'group' | 'ribbon' | 'position'>): number {
  try {
    return fiberAtPlace(cable, place)
  } catch {
    return cable.fiberCount
  }
}

function Choice({
  label,
  value,
  most,
  onChange,
  wordOf,
  strand,
}: {
  label: string
  value: number
  most: number
  onChange(value: number): void
  wordOf(value: number): string
  strand: React.ReactNode
}) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flexWrap: 'wrap' }}>
      <SelectField
        label={label}
        value={value}
        onChoose={onChange}
        sx={{ flex: '1 1 160px' }}
        options={Array.from({ length: most }, (_, k) => [k + 1, wordOf(k + 1)] as const)}
      />
      {strand}
    </Box>
  )
}
