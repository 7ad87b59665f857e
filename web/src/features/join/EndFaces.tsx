import type { EndFaceEntry } from '@cold-thread/contract'
import {
  afterLooks,
  CLASS_WORDS,
  CONNECTOR_CLASSES,
  endFaceRule,
  LOOK_STEPS,
  type ConnectorClass,
  type LooksSummary,
  type OnStep,
} from '@cold-thread/core/endFace'
import { fiberKind } from '@cold-thread/core/fiber'
import { seedFrom } from '@cold-thread/core/math'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { proxy } from 'comlink'
import { useRef, useState } from 'react'
import { useAttachmentsQuery, useObservationsQuery } from '../../api/api.ts'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { clock } from '../../ui/time.ts'
import type { JudgedPicture } from '../../worker/endFaceJob.ts'
import { workers } from '../../worker/workers.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { EndFaceView } from './EndFaceView.tsx'
import { useFileAddress } from './useFileAddress.ts'

const TONES: Record<EndFaceEntry['verdict'], Tone> = { pass: 'good', close: 'close', fail: 'bad', 'no rule': 'unknown' }
const SIDES = [
  ['plug', 'the plug'],
  ['port', 'the port'],
] as const

/** The class of a connector by the link's record: its polish, and the fiber behind it. */
function classOf({ link, plant }: Pick<StageProps, 'link' | 'plant'>, node: string): ConnectorClass {
  const end = node === link.from ? link.ends?.from : node === link.to ? link.ends?.to : undefined
  if (end?.connector.toUpperCase() === 'MPO') return 'multi-fiber'
  if (end?.polish.toUpperCase() === 'APC') return 'APC'
  const cable = link.path.flatMap((step) => ('cable' in step ? [step.cable] : []))[0]
  const type = plant.cables.find(({ id }) => id === cable)?.fiberType ?? ''
  return fiberKind(type) === 'multimode' ? 'multimode PC' : 'single-mode PC'
}

/** Inspect, clean, inspect: pictures of end faces, graded; each look is kept with what it came to. */
export function EndFaces({ callout, plant, link, working }: StageProps & { working: boolean }) {
  const nodes = [
    link.from,
    ...link.path.flatMap((step) => ('node' in step && step.joint === 'connector' ? [step.node] : [])),
    link.to,
  ]
  const { data: log } = useObservationsQuery(callout.id)
  const [node, setNode] = useState(nodes[0]!)
  const [side, setSide] = useState<'plug' | 'port'>('plug')
  const [chosen, setChosen] = useState<ConnectorClass | null>(null)
  const [judged, setJudged] = useState<{ picture: JudgedPicture; simulated: boolean; id: number } | null>(null)
  const [busy, setBusy] = useState(false)
  const [step, setStep] = useState<Parameters<OnStep>[0]>(LOOK_STEPS[0])
  const onStep = proxy<OnStep>(setStep)
  const camera = useRef<HTMLInputElement>(null)
  const file = useRef<HTMLInputElement>(null)
  const connector = chosen ?? classOf({ link, plant }, node)
  const looks = (log ?? []).flatMap((one) =>
    one.entry.kind === 'end-face' && one.entry.node === node && one.entry.side === side && !one.superseded
      ? [{ ...one, entry: one.entry }]
      : [],
  )
  const summary =
    looks.length > 0
      ? afterLooks(
          looks.map(({ entry }) => lookOf(entry)),
          side,
        )
      : null
  const look = async (take: () => Promise<JudgedPicture>, simulated: boolean) => {
    setBusy(true)
    setStep(LOOK_STEPS[0])
    try {
      const picture = await take()
      setJudged({ picture, simulated, id: Date.now() })
    } catch {
      setJudged({ picture: { problem: 'The picture can’t be looked at on this device.' }, simulated, id: Date.now() })
    } finally {
      setBusy(false)
    }
  }
  const fromFiles = (files: FileList | null) => {
    const one = files?.[0]
    if (one) void look(() => workers.endFace().file(one, connector, onStep), false)
  }
  const other =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value)
      setJudged(null)
    }
  if (!working && (log ?? []).every(({ entry }) => entry.kind !== 'end-face')) return null
  const rule = endFaceRule(connector)
  return (
    <Section title="End faces">
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1, mb: 1 }}>
        <SelectField
          label="Connector at"
          value={node}
          onChoose={other((value) => {
            setNode(value)
            setChosen(null)
          })}
          sx={{ minWidth: 230 }}
          options={[...new Set(nodes)].map(
            (id) => [id, plant.nodes.find((candidate) => candidate.id === id)?.name ?? id] as const,
          )}
        />
        <SelectField label="Looked at" value={side} onChoose={other(setSide)} sx={{ minWidth: 130 }} options={SIDES} />
        <SelectField
          label="Class"
          value={connector}
          onChoose={other(setChosen)}
          sx={{ minWidth: 260 }}
          options={CONNECTOR_CLASSES.map((one) => [one, CLASS_WORDS[one]] as const)}
        />
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>
        {rule
          ? `Limits: ${rule.edition}${rule.superseded && `, superseded by ${rule.superseded}`}.`
          : 'No table is here for this class: the picture is marked, not graded.'}{' '}
        Never look into a fiber that was not shown dark.
      </Typography>
      {summary && <Summary summary={summary} />}
      {working && (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 1.5 }}>
          {callout.simulated && (
            <Button
              variant="contained"
              size="large"
              disabled={busy}
              onClick={() =>
                void look(
                  () =>
                    workers.endFace().simulated(
                      {
                        seed: seedFrom(callout.id, node, side),
                        cleanings: looks.length,
                        fiber: connector === 'multimode PC' ? 'multimode' : 'single-mode',
                      },
                      connector,
                      onStep,
                    ),
                  true,
                )
              }
              sx={{ minHeight: 56 }}
            >
              {looks.length === 0 ? 'Look: simulated microscope' : 'Cleaned: look again, simulated microscope'}
            </Button>
          )}
          <Button
            variant="outlined"
            size="large"
            disabled={busy}
            onClick={() => camera.current?.click()}
            sx={{ minHeight: 56 }}
          >
            Take a picture
          </Button>
          <Button size="large" disabled={busy} onClick={() => file.current?.click()} sx={{ minHeight: 56 }}>
            From a file
          </Button>
          <input
            ref={camera}
            type="file"
            aria-label="Picture through the microscope"
            accept="image/*"
            capture="environment"
            hidden
            onChange={({ target }) => {
              fromFiles(target.files)
              target.value = ''
            }}
          />
          <input
            ref={file}
            type="file"
            aria-label="Picture file of the end face"
            hidden
            onChange={({ target }) => {
              fromFiles(target.files)
              target.value = ''
            }}
          />
        </Box>
      )}
      {busy && (
        <Box sx={{ mb: 1 }}>
          <LinearProgress
            variant="determinate"
            value={(100 * (LOOK_STEPS.indexOf(step) + 0.5)) / LOOK_STEPS.length}
            aria-label="Looking at the picture"
          />
          <Typography sx={{ fontSize: 14 }}>{step} …</Typography>
        </Box>
      )}
      {judged && (
        <EndFaceView
          key={judged.id}
          callout={callout}
          judged={judged.picture}
          simulated={judged.simulated}
          node={node}
          side={side}
          connector={connector}
          onKept={() => setJudged(null)}
        />
      )}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
        {looks.map(({ id, entry, by, observedAt }, i) => (
          <Box key={id} sx={{ width: { xs: '100%', sm: 260 } }}>
            {entry.picture && <KeptPicture calloutId={callout.id} id={entry.picture} name={`Look ${i + 1}`} />}
            <Typography>
              Look {i + 1}:{' '}
              <Judgement
                tone={TONES[entry.overruled?.verdict ?? entry.verdict]}
                word={entry.overruled?.verdict ?? entry.verdict}
              />
              {entry.overruled && `, by ${by} against “${entry.verdict}”: ${entry.overruled.reason}`}
            </Typography>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {clock(observedAt)}, {by}
              {entry.simulated && ', simulated'}
            </Typography>
          </Box>
        ))}
      </Box>
    </Section>
  )
}

function lookOf({ verdict, overruled, features }: EndFaceEntry) {
  return {
    verdict: overruled?.verdict ?? verdict,
    marked: features.filter(({ mark }) => mark === 'over' || mark === 'close'),
  }
}

function Summary({ summary: { next, cleanings, words } }: { summary: LooksSummary }) {
  const tone: Tone =
    next === 'connect' ? 'good' : next === 'damage' ? 'bad' : next === 'by its sheet' ? 'unknown' : 'close'
  return (
    <Typography role="status" sx={{ fontSize: 20, mb: 1 }}>
      <Judgement tone={tone} word={next === 'damage' ? 'stop cleaning' : next} />: {words}
      {cleanings > 0 && ` Cleaned ${cleanings === 1 ? 'once' : `${cleanings} times`}.`}
    </Typography>
  )
}

function KeptPicture({ calloutId, id, name }: { calloutId: string; id: string; name: string }) {
  const { data } = useAttachmentsQuery(calloutId)
  const kept = data?.find((one) => one.id === id)
  return kept ? <Picture attachment={kept} name={name} /> : null
}

function Picture({ attachment, name }: { attachment: Parameters<typeof useFileAddress>[0]; name: string }) {
  const address = useFileAddress(attachment)
  return address === null ? null : (
    <Box component="img" src={address} alt={`${name}, marked picture`} sx={{ width: '100%', borderRadius: 1 }} />
  )
}
