import { evidence as evidenceSchema, type EvidenceEntry } from '@cold-thread/contract'
import { isCableStep } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { PowerFile } from './PowerFile.tsx'

type Evidence = EvidenceEntry['evidence']
type Kind = Evidence['kind']

const KINDS: [Kind, string][] = [
  ['report', 'Something seen or reported'],
  ['distance', 'Distance read out'],
  ['light', 'Visible light'],
  ['power', 'Power at a node'],
  ['opened', 'Opened and looked'],
  ['neighbours', 'Neighbouring fibers'],
  ['growth', 'How it came'],
]

/** What the form holds while it is filled in; numbers as typed. */
interface Draft {
  kind: Kind
  from: 'ab' | 'ba'
  place: string
  chainage: string
  spread: string
  text: string
  answer: string
  expected: string
  measured: string
  distance: string
  groupIndex: string
  launch: string
  sigma: string
  what: string
}

const CHAINAGE = 'at a chainage'

/** One piece of evidence; only the fields of its kind are asked for. */
export function EvidenceForm(props: StageProps & { onDone(): void }) {
  const { callout, plant, link, onDone } = props
  const nodeIds = [link.from, ...link.path.flatMap((step) => ('node' in step ? [step.node] : [])), link.to]
  const route = plant.routes.find((candidate) => candidate.id === plant.nodes.find((n) => n.id === link.from)?.routeId)
  const firstCable = plant.cables.find((cable) => cable.id === link.path.find(isCableStep)?.cable)
  const [entryId] = useState(() => uuidv7())
  const [draft, setDraft] = useState<Draft>({
    kind: 'report',
    from: 'ab',
    place: nodeIds[0]!,
    chainage: '',
    spread: '100',
    text: '',
    answer: 'yes',
    expected: '',
    measured: '',
    distance: '',
    groupIndex: String(firstCable?.groupIndex['1550'] ?? 1.468),
    launch: String(link.launchCord ?? 0),
    sigma: '5',
    what: 'break',
  })
  const [add, { error, isLoading }] = useAddObservationMutation()
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const set = (change: Partial<Draft>) => setDraft((before) => ({ ...before, ...change }))
  const landmarks = (route?.landmarks ?? []).map((mark) => ({ key: `mark ${mark.name}`, ...mark }))
  const place = () => {
    const landmark = landmarks.find((mark) => mark.key === draft.place)
    if (landmark) return { chainage: landmark.chainage }
    return draft.place === CHAINAGE ? { chainage: figure(draft.chainage) } : { node: draft.place }
  }
  const parsed = evidenceSchema.safeParse(toEvidence(draft, place()))
  const save = async () => {
    if (!parsed.success) return
    const { error: failed } = await add({
      calloutId: callout.id,
      id: entryId,
      observation: {
        entry: { kind: 'evidence', evidence: parsed.data },
        observedAt: new Date().toISOString(),
        supersedes: null,
      },
    })
    if (!failed) onDone()
  }
  const field = (name: keyof Draft, label: string, width = 150) => (
    <TextField
      key={name}
      label={label}
      value={draft[name]}
      onChange={(event) => set({ [name]: event.target.value })}
      sx={{ width }}
      slotProps={{ htmlInput: { inputMode: name === 'text' ? 'text' : 'decimal' } }}
    />
  )
  const choice = (name: keyof Draft, label: string, options: [string, string][]) => (
    <SelectField
      key={name}
      label={label}
      value={draft[name]}
      onChoose={(value) => set({ [name]: value })}
      sx={{ minWidth: 190 }}
      options={options}
    />
  )
  const nodes = nodeIds.map((id): [string, string] => [id, nameOf(id)])
  const places: [string, string][] = [
    ...nodes,
    ...landmarks.map((mark): [string, string] => [mark.key, mark.name]),
    [CHAINAGE, CHAINAGE],
  ]
  const from = choice('from', 'From', [
    ['ab', nameOf(link.from)],
    ['ba', nameOf(link.to)],
  ])
  const where = [
    choice('place', 'Where', places),
    ...(draft.place === CHAINAGE ? [field('chainage', 'Chainage, m')] : []),
  ]
  const fields: Record<Kind, React.ReactNode[]> = {
    report: [field('text', 'What was seen', 260), ...where, field('spread', 'Within, m', 120)],
    distance: [
      from,
      choice('what', 'What shows', [
        ['break', 'a break'],
        ['loss', 'added loss'],
        ['reflection', 'a reflection'],
      ]),
      field('distance', 'Distance shown, m'),
      field('groupIndex', 'Index set', 120),
      field('launch', 'Launch cord, m', 140),
      field('sigma', 'Sure to ±, m', 120),
    ],
    light: [
      from,
      ...where,
      choice('answer', 'Light there', [
        ['yes', 'seen'],
        ['no', 'not seen'],
      ]),
    ],
    power: [from, choice('place', 'Where', nodes), field('expected', 'Expected, dBm'), field('measured', 'Read, dBm')],
    opened: [
      choice('place', 'What was opened', nodes),
      choice('answer', 'Found', [
        ['no', 'nothing wrong'],
        ['yes', 'the fault'],
      ]),
    ],
    neighbours: [
      choice('answer', 'Neighbours in the tube', [
        ['yes', 'affected too'],
        ['no', 'well'],
      ]),
    ],
    growth: [
      choice('answer', 'It came', [
        ['sudden', 'suddenly'],
        ['slow', 'slowly'],
        ['weather', 'with the weather'],
      ]),
    ],
  }
  return (
    <Box
      component="form"
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault()
        void save()
      }}
      sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'center', mt: 1.5 }}
    >
      <SelectField
        label="Kind of evidence"
        value={draft.kind}
        onChoose={(value) => {
          const kind = value
          set({ kind, answer: kind === 'growth' ? 'sudden' : kind === 'opened' ? 'no' : 'yes', place: nodeIds[0]! })
        }}
        sx={{ minWidth: 220 }}
        options={KINDS}
      />
      {fields[draft.kind]}
      <Button type="submit" variant="contained" disabled={!parsed.success || isLoading} sx={{ minHeight: 44 }}>
        Use this evidence
      </Button>
      <Button onClick={onDone} sx={{ minHeight: 44 }}>
        Cancel
      </Button>
      <Problem error={error} />
      {draft.kind === 'power' && <PowerFile {...props} />}
    </Box>
  )
}

/** A decimal comma is a decimal point; an empty field is no number. */
function figure(text: string): number {
  return text.trim() === '' ? NaN : Number(text.replace(',', '.'))
}

function toEvidence(draft: Draft, place: { node: string } | { chainage: number }): unknown {
  const { kind, from } = draft
  const yes = draft.answer === 'yes'
  switch (kind) {
    case 'report':
      return { kind, place, spread: figure(draft.spread), text: draft.text }
    case 'distance':
      return {
        kind,
        from,
        distance: figure(draft.distance),
        groupIndex: figure(draft.groupIndex),
        launch: figure(draft.launch),
        sigma: figure(draft.sigma),
        what: draft.what,
      }
    case 'light':
      return { kind, from, place, seen: yes }
    case 'power':
      return { kind, from, node: draft.place, expected: figure(draft.expected), measured: figure(draft.measured) }
    case 'opened':
      return { kind, node: draft.place, found: yes }
    case 'neighbours':
      return { kind, affected: yes }
    case 'growth':
      return { kind, how: draft.answer }
  }
}
