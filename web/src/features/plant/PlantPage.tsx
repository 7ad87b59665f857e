import type { Account } from '@cold-thread/contract'
import type { Link, PlantBundle } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useBaselinesQuery, usePlantQuery, useSavePlantMutation, useUploadBaselineMutation } from '../../api/api.ts'
import { errorText } from '../../api/errorText.ts'
import { canKeepRecords } from '../../app/rights.ts'
import { metres } from '@cold-thread/core/units'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { TracePicker } from '../../ui/TracePicker.tsx'
import { CableRecords } from './CableRecords.tsx'
import { guessDirection } from '../callout/guessDirection.ts'

/** The records: import a plant, see for each link whether a fault on it could be placed and proved. */
export function PlantPage({ account }: { account: Account }) {
  const { data: plant, error } = usePlantQuery()
  const keeper = canKeepRecords(account)
  return (
    <>
      <Box
        sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', mb: 2, gap: 1, flexWrap: 'wrap' }}
      >
        <Typography variant="h1">{plant?.bundle?.name ?? 'Plant'}</Typography>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          {plant?.bundle && (
            <Button variant="outlined" component={RouterLink} to="/fibers">
              Fiber finder
            </Button>
          )}
          {plant?.bundle && (
            <Button variant="outlined" component={RouterLink} to="/lengths">
              Lengths
            </Button>
          )}
          {plant?.bundle && (
            <Button variant="outlined" component={RouterLink} to="/open-book">
              Closures’ sheets
            </Button>
          )}
          {plant?.bundle && (
            <Button variant="outlined" component={RouterLink} to="/tags">
              Tags
            </Button>
          )}
          {plant?.bundle && <ExportButton bundle={plant.bundle} />}
          {keeper && plant && <ImportButton version={plant.version} />}
        </Box>
      </Box>
      <Problem error={error} />
      {plant && !plant.bundle && (
        <Typography>
          No plant is recorded yet.{' '}
          {keeper ? 'Import a plant bundle (JSON).' : 'A records keeper or lead can import one.'}
        </Typography>
      )}
      {plant?.bundle && (
        <>
          {plant.bundle.links.map((link) => (
            <LinkCard key={link.id} link={link} plant={plant.bundle!} keeper={keeper} />
          ))}
          <CableRecords plant={plant.bundle} version={plant.version} keeper={keeper} />
          <Places plant={plant.bundle} />
        </>
      )}
    </>
  )
}

/** Closures, panels and coils in the order of the ground, each with its own page. */
function Places({ plant }: { plant: PlantBundle }) {
  const nodes = [...plant.nodes].sort((a, b) => a.routeId.localeCompare(b.routeId) || a.chainage - b.chainage)
  return (
    <Section title="Places">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        {nodes.map(({ id, name, chainage }) => (
          <Button key={id} component={RouterLink} to={`/at/${encodeURIComponent(id)}`}>
            {name}, {metres(chainage)}
          </Button>
        ))}
      </Box>
    </Section>
  )
}

function ImportButton({ version }: { version: number }) {
  const picker = useRef<HTMLInputElement>(null)
  const [save, { error }] = useSavePlantMutation()
  const [unread, setUnread] = useState<string | null>(null)
  const take = async (file: File) => {
    setUnread(null)
    try {
      await save({ bundle: JSON.parse(await file.text()) as PlantBundle, version })
    } catch (problem) {
      setUnread(`${file.name}: this is not JSON: ${errorText(problem)}`)
    }
  }
  return (
    <Box>
      <input
        ref={picker}
        type="file"
        accept=".json"
        hidden
        aria-label="Plant bundle"
        onChange={(event) => {
          const file = event.target.files?.[0]
          if (file) void take(file)
          event.target.value = ''
        }}
      />
      <Button variant="contained" onClick={() => picker.current?.click()}>
        Import plant
      </Button>
      <Problem error={error ?? (unread && { message: unread })} />
    </Box>
  )
}

function ExportButton({ bundle }: { bundle: PlantBundle }) {
  const save = () => {
    const url = URL.createObjectURL(new Blob([JSON.stringify(bundle, null, 2)], { type: 'application/json' }))
    const anchor = document.createElement('a')
    anchor.href = url
    anchor.download = `${bundle.name.toLowerCase().replaceAll(/\W+/g, '-')}.json`
    anchor.click()
    URL.revokeObjectURL(url)
  }
  return (
    <Button variant="outlined" onClick={save}>
      Export plant
    </Button>
  )
}

function LinkCard({ link, plant, keeper }: { link: Link; plant: PlantBundle; keeper: boolean }) {
  const { data: baselines } = useBaselinesQuery(link.id)
  const [upload] = useUploadBaselineMutation()
  const [refused, setRefused] = useState<string[]>([])
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const standing = (baselines ?? []).filter((trace) => !trace.withdrawn)
  const wavelengths = [...new Set(standing.map((trace) => trace.facts.wavelength))].sort((a, b) => a - b)
  const bothWays =
    wavelengths.length > 0 &&
    wavelengths.every((nm) =>
      (['ab', 'ba'] as const).every((direction) =>
        standing.some((t) => t.facts.wavelength === nm && t.direction === direction),
      ),
    )
  const take = async (files: readonly File[]) => {
    setRefused([])
    for (const file of files) {
      const direction = guessDirection(file.name) ?? 'ab'
      const [near, far] = direction === 'ab' ? [link.launchCord, link.receiveCord] : [link.receiveCord, link.launchCord]
      const facts = { fileName: file.name, role: 'baseline' as const, direction, launchCord: near, receiveCord: far }
      const { error } = await upload({ linkId: link.id, id: uuidv7(), facts, file })
      if (error) setRefused((list) => [...list, `${file.name}: ${errorText(error)}`])
    }
  }
  const from = plant.nodes.find((node) => node.id === link.from)
  const to = plant.nodes.find((node) => node.id === link.to)
  return (
    <Section
      title={link.name}
      action={
        keeper && (
          <TracePicker
            label={`Baseline files of ${link.name}`}
            variant="text"
            words="Add baselines"
            onFiles={(files) => void take(files)}
          />
        )
      }
    >
      <Typography>
        {nameOf(link.from)} to {nameOf(link.to)}
        {from && to ? `, ${metres(Math.abs(to.chainage - from.chainage))} on the ground` : ''},{' '}
        {link.path.filter((step) => 'node' in step).length} joints, {link.state}
      </Typography>
      <Box sx={{ mt: 1 }}>
        {wavelengths.length === 0 ? (
          <Judgement tone="bad" word="No baseline: a fault here can’t be compared" />
        ) : bothWays ? (
          <Judgement tone="good" word={`Baselines both ways at ${wavelengths.join(' and ')} nm`} />
        ) : (
          <Judgement tone="close" word={`Baselines at ${wavelengths.join(' and ')} nm, not both ways at each`} />
        )}
      </Box>
      {refused.map((line) => (
        <Problem key={line} error={{ message: line }} />
      ))}
    </Section>
  )
}
